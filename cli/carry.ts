import { carriedInWords, carryMod, itemInWords, ORDER, type CarryItem, type Prefer } from '$core/carry';
import { assembleStack } from '$core/model';
import { counted } from '$core/wording';
import { writeAtomic } from '../src/lib/files';
import { read, WrongCall } from './arguments';
import { openGuide, openStack } from './open';
import { wholePack, writePack } from './pack';

const USAGE =
	'kettle carry --old DIR --new DIR --mod DIR [--layer DIR]… [--prefer mine|theirs|on-top] [--out DIR] [--list FILE] [--guide GUIDE] [--json]';

const PREFER: readonly string[] = ['mine', 'theirs', 'on-top'] satisfies Prefer[];

/** An item as data. */
const plain = ({
	kind,
	record,
	from,
	field,
	old,
	new: fresh,
	mine,
	result,
	by,
	why,
	candidates
}: CarryItem) => ({
	kind,
	record,
	from,
	field,
	old,
	new: fresh,
	mine,
	result,
	by,
	why,
	candidates
});

const line = (item: CarryItem): string => {
	const what = item.kind === null ? item.record : `${item.kind} ${item.record}`;
	return `${item.what}: ${what}${item.from === null ? '' : `, was ${item.from}`}${item.field === null ? ':' : ','} ${itemInWords(item)}`;
};

/** `kettle carry`: my mod on a new version of the game. */
export async function carry(args: string[]): Promise<number> {
	const { values } = read(
		args,
		{
			old: { type: 'string' },
			new: { type: 'string' },
			mod: { type: 'string' },
			layer: { type: 'string', multiple: true },
			prefer: { type: 'string' },
			out: { type: 'string' },
			list: { type: 'string' },
			guide: { type: 'string' },
			json: { type: 'boolean' }
		},
		USAGE
	);
	const { old, new: fresh, mod, prefer, out, layer = [] } = values;
	if (old === undefined || fresh === undefined || mod === undefined)
		throw new WrongCall(`Name the old and the new version of the game, and your mod. Usage: ${USAGE}`);
	if (prefer !== undefined && !PREFER.includes(prefer))
		throw new WrongCall(`--prefer is mine, theirs or on-top. Usage: ${USAGE}`);
	// Both versions are read alike: by the guide that was named, or that is beside the old version.
	const guide = await openGuide(values.guide, old);
	const before = await openStack(old, layer, mod, guide);
	const next = await openStack(fresh, layer, undefined, guide);
	const title = before.stack.mine!.title;
	const after = assembleStack([...next.layers, { id: 'mine', title, owner: 'me', files: new Map() }], guide);
	const { items, files } = carryMod(before.stack, after, { prefer: prefer as Prefer | undefined });
	if (values.list !== undefined)
		await writeAtomic(values.list, Buffer.from(carriedInWords(after, `${title} on the new version`, items)));
	if (out !== undefined) {
		await writePack(out, wholePack(files), [old, fresh, mod, ...layer]);
	}
	const byWhat = (what: CarryItem['what']) => items.filter((item) => item.what === what);
	const open = byWhat('undecided').length + byWhat('homeless').length;
	if (values.json)
		process.stdout.write(
			`${JSON.stringify(Object.fromEntries(ORDER.map((what) => [what, byWhat(what).map(plain)])))}\n`
		);
	else {
		for (const what of ORDER) for (const item of byWhat(what)) process.stdout.write(`${line(item)}\n`);
		process.stdout.write(
			`${counted(byWhat('carried').length, 'change')} carried over, ${byWhat('refreshed').length} taken over from the new version, ${byWhat('undecided').length} to decide, ${byWhat('homeless').length} without a place\n`
		);
		if (out === undefined) process.stdout.write('Nothing was written: name a folder with --out.\n');
	}
	return open > 0 ? 1 : 0;
}
