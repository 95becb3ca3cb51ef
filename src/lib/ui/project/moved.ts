// What is moved between the main part of a mod and an option.
import type { OptionThing } from '$core/views';

export interface Moved {
	cells?: { kind: string; id: string; field: string }[];
	things?: ({ kind: string; id: string } | { path: string })[];
}

/** How a record or a file is named where it is to be moved. */
export const thingOf = ({ kind, id, path }: OptionThing) =>
	path === null ? { kind: kind!, id: id! } : { path };
