// Pictures of what a mod changes, one for a kind: a table of its records, before and after. The same mod always gives the
// same pictures. They are SVG, so that the texts in them can be read and found.
import { summaryOf, type GameChanges, type RecordChange } from '../carry';
import { titleOf, type Guide } from '../guide';
import { counted } from '../wording';

/** Pictures, records and fields of each at most, and characters of a value. */
const [PICTURES, ROWS, COLUMNS, LONGEST] = [2, 16, 6, 22];

/** Measures in pixels: of a line, of a letter, around the whole, between columns. */
const [LINE, LETTER, MARGIN, BETWEEN] = [26, 7.4, 20, 22];

/** A picture for those who play a mod. */
export interface TablePicture {
	/** Where it is in the pack. */
	path: string;
	title: string;
	svg: string;
}

const escaped = (text: string): string =>
	text.replace(/[&<>"]/g, (one) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[one]!);

/** What can stand in a picture: no line breaks, nothing that XML cannot hold, not too long. */
function short(text: string): string {
	const plain = text.replace(/[\s\u0000-\u001f\u007f\ufffe\uffff]+/g, ' ').toWellFormed();
	const letters = [...plain];
	return letters.length > LONGEST ? `${letters.slice(0, LONGEST - 1).join('')}…` : plain;
}

/** How wide a text is, about: letters of East Asian scripts take two places. */
const widthOf = (text: string): number =>
	[...text].reduce((all, letter) => all + (letter.codePointAt(0)! >= 0x2e80 ? 2 : 1), 0) * LETTER;

interface Cell {
	old: string | null;
	now: string;
}

/** The fields that most of the records change, the most changed first. */
function fieldsOf(records: readonly RecordChange[]): string[] {
	const counts = new Map<string, number>();
	for (const { fields } of records)
		for (const { path } of fields) counts.set(path, (counts.get(path) ?? 0) + 1);
	return [...counts]
		.sort(([a, x], [b, y]) => y - x || (a < b ? -1 : 1))
		.slice(0, COLUMNS)
		.map(([path]) => path);
}

function cellOf(record: RecordChange, path: string): Cell | null {
	const field = record.fields.find((one) => one.path === path);
	if (!field) return null;
	return { old: field.old === null ? null : short(field.old), now: short(field.new ?? '–') };
}

const inOne = ({ old, now }: Cell): string => (old === null ? now : `${old} → ${now}`);

const NOTES: Partial<Record<RecordChange['what'], string>> = { new: 'new', gone: 'removed' };

function pictureOf(
	title: string,
	records: readonly RecordChange[],
	titleOf: (path: string) => string
): string {
	const shown = records.slice(0, ROWS);
	const paths = fieldsOf(shown);
	const heads = ['', ...paths.map((path) => short(titleOf(path)))];
	const names = shown.map(({ name, what }) => ({ name: short(name), note: NOTES[what] ?? '' }));
	const cells = shown.map((record) => paths.map((path) => cellOf(record, path)));
	const widths = heads.map((head, nth) =>
		Math.max(
			widthOf(head),
			...(nth === 0
				? names.map(({ name, note }) => widthOf(name) + (note ? widthOf(note) + LETTER : 0))
				: cells.map((row) => (row[nth - 1] ? widthOf(inOne(row[nth - 1]!)) : 0)))
		)
	);
	const lefts = widths.map((_, nth) =>
		widths.slice(0, nth).reduce((left, width) => left + width + BETWEEN, MARGIN)
	);
	const more = records.length - shown.length;
	const width = Math.ceil(Math.max(lefts.at(-1)! + widths.at(-1)!, MARGIN + widthOf(title) * 1.4) + MARGIN);
	const top = MARGIN + 24;
	const height = top + LINE * (shown.length + 1 + (more > 0 ? 1 : 0)) + MARGIN;
	const text = (x: number, y: number, what: string, more = '') =>
		`<text x="${x.toFixed(1)}" y="${y}"${more}>${what}</text>`;
	const lines = [
		`<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}" font-family="sans-serif" font-size="13" fill="#2b2a27">`,
		`<title>${escaped(title)}</title>`,
		`<rect width="${width}" height="${height}" fill="#fbfaf6"/>`,
		text(MARGIN, MARGIN + 12, escaped(title), ' font-size="18" font-weight="600"'),
		...heads.map((head, nth) => text(lefts[nth]!, top + 16, escaped(head), ' fill="#6a665d" font-size="12"'))
	];
	for (const [nth, { name, note }] of names.entries()) {
		const y = top + LINE * (nth + 1);
		lines.push(
			`<path d="M${MARGIN} ${y}H${width - MARGIN}" stroke="#ddd8cc"/>`,
			text(
				lefts[0]!,
				y + 18,
				`${escaped(name)}${note && `<tspan dx="${LETTER}" fill="#6a665d">${note}</tspan>`}`
			)
		);
		for (const [at, cell] of cells[nth]!.entries()) {
			if (!cell) continue;
			const before = cell.old === null ? '' : `<tspan fill="#6a665d">${escaped(cell.old)} → </tspan>`;
			lines.push(
				text(
					lefts[at + 1]!,
					y + 18,
					`${before}<tspan fill="#a04a1c" font-weight="600">${escaped(cell.now)}</tspan>`
				)
			);
		}
	}
	if (more > 0)
		lines.push(
			text(
				lefts[0]!,
				top + LINE * (shown.length + 1) + 18,
				`and ${counted(more, 'more record')}`,
				' fill="#6a665d"'
			)
		);
	return `${lines.join('\n')}\n</svg>\n`;
}

/**
 * Pictures of the kinds of which a mod changes most.
 * @param changes from the game without the mod to the game with it
 */
export function tablePictures(guide: Guide, changes: GameChanges): TablePicture[] {
	const records = changes.records.filter(
		({ file, kind }) => kind !== guide.words?.kind && (file === null || file !== guide.identity)
	);
	const taken = new Set<string>();
	return summaryOf({ ...changes, records })
		.kinds.filter((kind) => kind.records.length > 0)
		.slice(0, PICTURES)
		.map(({ kind, records: own }) => {
			const about = guide.kinds[kind];
			const title = about?.plural ?? about?.title ?? kind;
			let name = kind.replace(/[^\w-]+/g, '_') || 'table';
			while (taken.has(name)) name += '_';
			taken.add(name);
			return {
				path: `pictures/${name}.svg`,
				title,
				svg: pictureOf(title, own, (path) => titleOf(about, path))
			};
		});
}
