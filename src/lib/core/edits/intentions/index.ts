// Everything somebody can want changed, in terms of records: the same for a cell, a ticket, a repair and the command.
// An intention is one file; this is the list of them.
import * as z from 'zod';
import { another } from './another';
import { answer } from './answer';
import { back } from './back';
import { bring } from './bring';
import { carry } from './carry';
import { cells } from './cells';
import { change } from './change';
import { clear } from './clear';
import { copy } from './copy';
import { file } from './file';
import { fill } from './fill';
import { identify } from './identify';
import type { Bound, Drafted, IntentionSchema } from './intention';
import { item } from './item';
import { literal } from './literal';
import { load } from './load';
import { move } from './move';
import { option } from './option';
import { page } from './page';
import { part } from './part';
import { patch } from './patch';
import { put } from './put';
import { recipe } from './recipe';
import { remove } from './remove';
import { rename } from './rename';
import { reverse } from './reverse';
import { set } from './set';
import { several } from './several';
import { stand } from './stand';
import { swap } from './swap';
import { take } from './take';
import { text } from './text';
import { renameVariable } from './variable';
import { write } from './write';

const INTENTIONS = [
	set,
	fill,
	cells,
	change,
	swap,
	take,
	copy,
	another,
	stand,
	rename,
	remove,
	clear,
	back,
	move,
	put,
	identify,
	item,
	part,
	write,
	recipe,
	several,
	bring,
	carry,
	option,
	text,
	file,
	patch,
	load,
	answer,
	page,
	literal,
	renameVariable,
	reverse
] as const;

type SchemasOf<All extends readonly { schema: unknown }[]> = {
	-readonly [Nth in keyof All]: All[Nth]['schema'];
};

/** Any intention, as data. */
export const intentionSchema = z.discriminatedUnion(
	'do',
	INTENTIONS.map(({ schema }) => schema) as unknown as SchemasOf<typeof INTENTIONS>
);

export type Intention = z.infer<typeof intentionSchema>;

type Registered = Drafted<IntentionSchema> | Bound<IntentionSchema>;

const byName = new Map(
	INTENTIONS.map((one): [string, Registered] => [one.schema.shape.do.value, one as unknown as Registered])
);

/** How an intention is carried out and said; undefined for none that is known. */
export const intentionOf = (name: string): Registered | undefined => byName.get(name);

export type { Besides, Bound, Drafted, Opener, Reversing, Step } from './intention';
