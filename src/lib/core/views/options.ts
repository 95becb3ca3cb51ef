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

/** An option with its values as people read them. */
export interface OptionView extends Omit<ModOption, 'cells'> {
	cells: OptionCell[];
}

/** The optional parts of my mod. */
export interface OptionsPage {
	slug: string;
	options: OptionView[];
	/** How many combinations are looked at. */
	combinations: number;
	/** Values of my mod that are not those of the layers below. */
	changed: OptionCell[];
	/** How many there are beyond those that are listed. */
	more: number;
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
