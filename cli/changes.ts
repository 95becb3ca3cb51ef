import { changesBetween, type FieldChange, type RecordChange } from '$core/carry';
import { counted } from '$core/wording';
import { read, WrongCall } from './arguments';
import { openGame, openGuide } from './open';

const USAGE = 'kettle changes --old DIR --new DIR [--guide GUIDE] [--json]';

const shown = (value: string | null) => (value === null ? 'nothing' : `“${value}”`);
const said = ({ path, old, new: fresh, from }: FieldChange) =>
	`${from === undefined ? path : `${path} (was ${from})`} ${shown(old)} → ${shown(fresh)}`;

/** What became of a record, in one line. */
function line({ kind, record, name, what, from, file, sure, fields }: RecordChange): string {
	const called = name === record ? `${kind} ${record}` : `${kind} ${record} (${name})`;
	const how = sure < 1 ? `, ${Math.round(sure * 100)} % sure` : '';
	const values = fields.length === 0 ? '' : `: ${fields.map(said).join(', ')}`;
	switch (what) {
		case 'new':
			return `new: ${called} in ${file}`;
		case 'gone':
			return `gone: ${called}`;
		case 'renamed':
			return `renamed: ${called}, was ${from!.record}${how}${values}`;
		case 'moved':
			return `moved: ${called} from ${from!.kind === kind ? from!.file : `${from!.kind}, ${from!.file}`} to ${file}${how}${values}`;
		case 'changed':
			return `changed: ${called}${values}`;
	}
}

/** `kettle changes`: what a new version of the game changed. */
export async function changes(args: string[]): Promise<number> {
	const { values } = read(
		args,
		{
			old: { type: 'string' },
			new: { type: 'string' },
			guide: { type: 'string' },
			json: { type: 'boolean' }
		},
		USAGE
	);
	if (values.old === undefined || values.new === undefined)
		throw new WrongCall(`Name the old and the new version of the game. Usage: ${USAGE}`);
	// Both are read alike: by the guide that was named, or that is beside the old version.
	const guide = await openGuide(values.guide, values.old);
	const [before, after] = [await openGame(values.old, guide), await openGame(values.new, guide)];
	const found = changesBetween(before, after);
	if (values.json) {
		process.stdout.write(`${JSON.stringify(found)}\n`);
		return 0;
	}
	for (const { kind, what, records } of found.kinds)
		process.stdout.write(`${what}: kind ${kind}, ${counted(records, 'record')}\n`);
	for (const one of found.fields)
		process.stdout.write(
			one.what === 'renamed'
				? `renamed: field ${one.to} of ${one.kind}, was ${one.from}, ${Math.round(one.sure * 100)} % sure (${counted(one.records, 'record')})\n`
				: one.what === 'split'
					? `split: field ${one.from} of ${one.kind} into ${one.to.join(' and ')}, ${Math.round(one.sure * 100)} % sure (${counted(one.records, 'record')})\n`
					: `${one.what}: field ${one.path} of ${one.kind}, in ${counted(one.records, 'record')}\n`
		);
	for (const one of found.records) process.stdout.write(`${line(one)}\n`);
	for (const { path, what, from } of found.files)
		process.stdout.write(`${what}: ${from === undefined ? path : `${path}, was ${from}`}\n`);
	process.stdout.write(
		`${counted(found.records.length, 'record')} and ${counted(found.files.length, 'file')} differ\n`
	);
	return 0;
}
