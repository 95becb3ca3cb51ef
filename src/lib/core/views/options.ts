import type { ModOption } from '../options';

/** A value of an option, or one of the main part that could become one. */
export interface OptionCell {
	kind: string;
	id: string;
	field: string;
	name: string;
	fieldTitle: string;
	/** What the option sets, or my mod says. */
	value: string;
	/** What counts without it. */
	without: string;
}

/** What an option has as a whole, or could have: a record, or a file that is not read as records. */
export interface OptionThing {
	kind: string | null;
	id: string | null;
	/** Of a file. */
	path: string | null;
	name: string;
	kindTitle: string;
}

/** An option with its values as people read them. */
export interface OptionView extends Omit<ModOption, 'cells'> {
	cells: OptionCell[];
	/** Records and files that only it has. */
	things: OptionThing[];
}

/** The optional parts of my mod. */
export interface OptionsPage {
	slug: string;
	options: OptionView[];
	/** How many combinations are looked at. */
	combinations: number;
	/** Values of my mod that are not those of the layers below. */
	changed: OptionCell[];
	/** Whether there are more than those that are listed. */
	more: boolean;
	/** Records of my mod that no layer below has, and its other files. */
	things: OptionThing[];
	/** Steps of the ledger with what of all these they changed, each as its kind, id and field, kind and id, or path. */
	steps: { id: number; title: string; keys: string[] }[];
	/** The folder-safe name of my mod. */
	mod: string;
}

/** What was found in the combinations that were looked at. */
export interface OptionsChecked {
	combinations: number;
	findings: {
		/** Titles of the options that it takes. */
		needs: string[];
		/** Titles of a combination that has it, where not every one with these does. */
		seen: string[] | null;
		message: string;
		severity: 'blocks' | 'warns' | 'note';
		/** The record that it is about. */
		kind: string | null;
		record: string | null;
	}[];
}
