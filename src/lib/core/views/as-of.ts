/** The layers up to which a project can be looked at. */
export interface AsOf {
	/** Those that are on, in load order. */
	layers: { id: string; title: string }[];
	/** The one that is asked for; null for all of them. */
	at: { id: string; title: string } | null;
}

/** A record as it is up to a layer. */
export interface RecordAsOf {
	kind: string;
	id: string;
	name: string | null;
	kindTitle: string;
	/** Title of the layer. */
	asOf: string;
	/** Its texts in the main language, and its fields. */
	values: {
		title: string;
		value: string;
		/** Title of the layer that says it. */
		layer: string;
		/** What the game uses with all layers; null where that is nothing. */
		now: string | null;
	}[];
}
