// Layouts as people write them in a file of their own.
import { parseDocument } from 'yaml';
import { fromKaitai, NotPacked } from './kaitai';
import { unknownEncoding } from './places';
import { packedLayout, type PackedLayout } from './schema';

/**
 * A layout from a file: YAML or JSON in our form, or a description for Kaitai Struct.
 * @throws NotPacked naming what is wrong, with its place
 */
export function layoutFrom(text: string): PackedLayout {
	const yaml = parseDocument(text);
	if (yaml.errors[0]) throw new NotPacked(`The layout is not YAML: ${yaml.errors[0].message.split('\n')[0]}`);
	const said = yaml.toJS() as unknown;
	if (typeof said !== 'object' || said === null) throw new NotPacked('The layout must say “tables: …”.');
	if ('meta' in said) return fromKaitai(text);
	const read = packedLayout.safeParse({ shape: 'packed', ...said });
	if (read.success) {
		const unknown = unknownEncoding(read.data);
		if (unknown === null) return read.data;
		throw new NotPacked(`The layout names the encoding “${unknown}”, which is not known here.`);
	}
	const [issue] = read.error.issues;
	throw new NotPacked(`The layout, at ${issue!.path.join('.') || 'its root'}: ${issue!.message}.`);
}
