/** The address of the same page with some of its parameters changed; an empty value or null takes one out. */
export function withParameters(page: URL, changes: Record<string, string | null>): string {
	const next = new URL(page);
	for (const [name, value] of Object.entries(changes)) {
		if (value) next.searchParams.set(name, value);
		else next.searchParams.delete(name);
	}
	return next.pathname + next.search;
}

/** The address of the same page with the ticket of a record beside it. */
export const withTicket = (page: URL, kind: string, id: string) =>
	withParameters(page, { ticket: `${kind}/${id}`, field: null });
