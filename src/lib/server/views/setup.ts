// What was found in a project's layers, for the page Set up.
import mime from 'mime';
import { claimsOf, type KindGuide } from '$core/guide';
import { gameVersionOf } from '$core/stack';
import { SURE } from '$core/text';
import { LIMITS } from '../../files';
import { lastVerification, type VerificationRow } from '../db/verifications';
import { db } from '../db/pool';
import { linkState, outsidePlan } from '../linked';
import { besideRows, type Model } from '../model';

export interface FileLine {
	path: string;
	size: number;
	kind: string | null;
	records: number;
	encoding: string | null;
	/** Whether people should look at the encoding. */
	unsure: boolean;
	eol: string | null;
	problems: number;
	/** What it is, where it is not data. */
	state: string;
}

export interface LayerView {
	id: string;
	title: string;
	owner: string;
	/** Whether it counts. */
	on: boolean;
	source: string;
	version: string;
	importedAt: string;
	/** The first of those that pass the filter, how many pass, and how many there are. */
	files: FileLine[];
	passing: number;
	total: number;
	bytes: number;
	verified: VerificationRow | null;
	/** Other versions that are kept beside it. */
	beside: { id: string; version: string; source: string; importedAt: string }[];
}

/** Files that are listed at a time. */
const MOST = 120;

const SORTS: [RegExp, string][] = [
	[/^image\//, 'picture'],
	[/^audio\//, 'sound'],
	[/^video\//, 'film'],
	[/^font\/|font/, 'font'],
	[/^model\//, 'model'],
	[/zip|tar|compressed|rar/, 'archive'],
	[/javascript|python|x-sh|x-lua/, 'script'],
	[/^text\//, 'text']
];

/** What a file that is no data is, by its ending. */
function sortOf(path: string, isText: boolean): string {
	const type = mime.getType(path) ?? '';
	const known = SORTS.find(([pattern]) => pattern.test(type))?.[1];
	return known ?? (isText ? 'text' : type !== '' && type !== 'application/octet-stream' ? type : 'unknown');
}

/** Kinds that one line names; of more it says how many. */
const NAMED = 3;

/** The kinds that a file holds, in words; null for none. */
function kindsInWords(kinds: readonly KindGuide[]): string | null {
	if (kinds.length === 0) return null;
	if (kinds.length > NAMED) return `${kinds.length} kinds`;
	return kinds.map(({ plural, title }) => plural ?? title).join(', ');
}

/** The layers with their files, and what became of each. */
export async function setupOf(model: Model, filter: string) {
	const beside = await besideRows(model);
	const layers = await Promise.all(
		model.layers.map(async (row): Promise<LayerView> => {
			const loaded = model.stack.layers.find((layer) => layer.id === row.id);
			const words = filter
				.toLowerCase()
				.split(/\s+/)
				.filter((word) => word !== '');
			const passing = row.files.filter(({ path }) =>
				words.every((word) => path.toLowerCase().includes(word))
			);
			const files = passing.slice(0, MOST).map(({ path, size, kept }): FileLine => {
				const facts = loaded?.files.get(path)?.facts ?? null;
				const claims = claimsOf(model.stack.guide, path);
				const letters = facts?.letters;
				const isData = facts !== null && facts.format !== null;
				const kinds = (isData ? claims : []).map(({ kind }) => model.stack.guide.kinds[kind]!);
				return {
					path,
					size,
					kind: kindsInWords(kinds),
					records: facts?.count ?? 0,
					encoding: letters
						? `${letters.encoding}${letters.bom ? ' with byte-order mark' : ''}${letters.told === 'guess' ? ` (guessed, ${Math.round(letters.confidence * 100)} %)` : ''}`
						: null,
					unsure: letters?.told === 'guess' && letters.confidence < SURE,
					eol: letters?.eol ?? null,
					problems: facts?.problems.length ?? 0,
					state: !loaded
						? 'not read: the layer is switched off'
						: isData
							? 'read'
							: size === 0
								? 'empty'
								: !kept && size > LIMITS.opened
									? 'too large to open; listed by its digest'
									: `${sortOf(path, facts !== null)}; not read as data${kept ? '' : ', listed by its digest'}`
				};
			});
			return {
				id: row.id,
				title: row.title,
				owner: row.owner,
				on: row.on,
				source: row.source,
				version: row.version,
				importedAt: row.importedAt,
				files,
				passing: passing.length,
				total: row.files.length,
				bytes: row.files.reduce((sum, file) => sum + file.size, 0),
				verified: await lastVerification(db(), row.id),
				beside: beside
					.filter((other) => other.besideOf === row.id)
					.map(({ id, version, source, importedAt }) => ({ id, version, source, importedAt }))
			};
		})
	);
	const link = await linkState(model.project.slug);
	return {
		layers,
		filter,
		version: gameVersionOf(model.stack),
		guided: model.project.guide !== null,
		link: link && { ...link, plan: await outsidePlan(model.project.slug) }
	};
}
