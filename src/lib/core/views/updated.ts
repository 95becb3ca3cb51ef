import type { FieldInShort, FieldSummary, GameChanges, KindSummary, RecordChange } from '../carry';

/** What a new version of the game changed. */
export interface UpdatedPage {
	slug: string;
	/** The version, as a layer beside the base. */
	to: string;
	title: string;
	/** Whether only what concerns my mod is on it. */
	mine: boolean;
	records: number;
	kinds: {
		kind: string;
		title: string;
		counts: KindSummary['counts'];
		whole: KindSummary['whole'];
		fields: FieldInShort[];
		/** Fields of which values changed, most first. */
		values: (Omit<FieldSummary, 'path'> & { title: string })[];
		records: {
			id: string;
			name: string;
			what: RecordChange['what'];
			/** What it was called before, the kind that it was, or the file that it was in. */
			was: string | null;
			sure: number;
			values: { title: string; old: string | null; new: string | null }[];
			more: number;
		}[];
		/** Records beyond those that are listed. */
		more: number;
	}[];
	files: { path: string; what: GameChanges['files'][number]['what']; from: string | null }[];
	moreFiles: number;
}
