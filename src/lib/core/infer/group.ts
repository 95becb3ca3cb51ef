import type { Facts } from '../facts';
import type { Where } from '../formats';
import { nameFromPath, type KindGuide } from '../guide';
import type { Sketch } from './sketch';

/** A file that reads as data, or a script of which the lines are known. */
export interface DataFile {
	path: string;
	/** Of a file with records of several kinds, those of one of its parts. */
	facts: Facts;
	/** Which part, where the guide said which there are; see `DocumentPart`. */
	spec?: number;
	/** The word that its records are under. */
	element?: string;
	/** Of what is beside the collections of a file: where these stand. */
	except?: readonly string[];
	/** How many lists and maps of records the file holds, where there are several. */
	collections?: number;
}

/** Files that form a kind, with what their columns hold. */
export interface Group {
	/** Its name in the guide. */
	kind: string;
	/** The statement of people about it; null where it was found. */
	said: KindGuide | null;
	/** What it may be called, for likeness with names of fields. */
	names: string[];
	globs: string[];
	files: DataFile[];
	/** What names records without an id. */
	id?: KindGuide['id'];
	key: string | null;
	at: string | null | undefined;
	except?: readonly string[];
	element?: string;
	where?: Where;
	/** Fields that name its records together. */
	keyParts?: readonly string[];
	/** The field that names records without the key. */
	spare?: string;
	/** Whether records may have a list of ids under the key. */
	severalIds?: boolean;
	/** Other fields that could name its records. */
	otherKeys?: readonly string[];
	sketch: Sketch;
	/** Why these files belong together. */
	because: string;
	/** Whether it is of texts in several languages. */
	texts: boolean;
	/** The group of which this is a twin. */
	twinOf: Group | null;
}

/** What a record is called once its file is read as what it was found to be. */
export const nameOfRecord = ({ id, at, globs }: Group, { path, facts }: DataFile, nth: number): string =>
	at === null && id !== undefined && facts.written[nth] === 0
		? nameFromPath(path, id, globs)
		: facts.pool.at(facts.ids[nth]!);

/** What a finding needs to know besides the files. */
export interface Scope {
	/** All paths of the game, files that are no data too. */
	paths: ReadonlySet<string>;
	/** Whether only files that nobody claims are looked at: what a mod adds tells nothing of the game's own kinds. */
	freeOnly?: boolean;
}
