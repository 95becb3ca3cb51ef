/** Where something is in a script. */
export interface ScriptPlace {
	layer: { id: string; title: string; owner: string };
	path: string;
	line: number;
}

/** Something that the game asks scripts for, with who answers. */
export interface EventView {
	name: string;
	/** The kind whose records each have a function of their own. */
	kind: { id: string; title: string; plural: string; records: number } | null;
	/** Whether the name ends in a number of its own for each function. */
	numbered: boolean;
	parameters: string[];
	/** What the guide says of it. */
	when: string | null;
	returns: string | null;
	/** What is known of its arguments, in the order of `parameters`; empty where nothing is. */
	about: string[];
	/** The argument that is the record which it is about, and the kind of that. */
	record: { argument: string; kind: string } | null;
	answers: (ScriptPlace & { id: string | null; name: string })[];
	/** How many more answers there are. */
	more: number;
	/** Records of the kind that have no function yet: the first of them. */
	open: { id: string; name: string }[];
}

/** One script in the order of loading. */
export interface LoadView {
	path: string;
	layer: { id: string; title: string; owner: string } | null;
	/** How many loads lead to it from the first script. */
	depth: number;
	/** The line (from 1) of the script above that loads it. */
	line: number;
	/** `gone` where no layer has it, `circle` where it is further up already. */
	state: 'loaded' | 'gone' | 'circle';
}

/** Records that are told apart by a field with few values. */
export interface ClassField {
	field: string;
	title: string;
	values: { value: string; shown: string }[];
}

export interface ScriptsPage {
	slug: string;
	/** Whether the guide names calls that show pages of text. */
	pages: boolean;
	/** The kinds of records that events are about, and the fields by which an answer may be for some of them only. */
	kinds: Record<string, { title: string; plural: string; classes: ClassField[] }>;
	/** Scripts that the game would see. */
	count: number;
	events: EventView[];
	/** The call that loads scripts; null where none was found. */
	call: string | null;
	order: LoadView[];
	unloaded: ScriptPlace[];
}

/** One argument that an event gets. */
export interface TryParameter {
	name: string;
	/** The kind of records that it is, where that is known. */
	kind: { id: string; title: string; first: { id: string; name: string } } | null;
	/** What the guide says of it. */
	meaning: string | null;
	unit: string | null;
	min: number | null;
	max: number | null;
}

/** A function of scripts that can be tried without the game. */
export interface TryPage {
	slug: string;
	name: string;
	answers: ScriptPlace[];
	parameters: TryParameter[];
	/** When the game raises it, and what an answer may return, by the guide. */
	when: string | null;
	returns: string | null;
	/** Functions of the game that scripts call, with what they return in a try. */
	game: { name: string; meaning: string | null; returns: string }[];
}
