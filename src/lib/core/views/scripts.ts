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

export interface ScriptsPage {
	slug: string;
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
}

/** A function of scripts that can be tried without the game. */
export interface TryPage {
	slug: string;
	name: string;
	answers: ScriptPlace[];
	parameters: TryParameter[];
	/** Functions of the game that scripts call. */
	game: string[];
}
