// A new record that a field is to name: asked for where the field is, made above the page, whatever becomes of the field's editor.

/** What the new record starts as a copy of, and which field names it. */
export interface Making {
	kind: string;
	id: string;
	into: { kind: string; id: string; field: string };
}

export const making = $state<{ wish: Making | null }>({ wish: null });

/** Begins to make a new record. */
export function makeNew(wish: Making): void {
	making.wish = wish;
}
