/** The address of the page of a file, at a line where one is given (from 1). @param layer id of its layer */
export const fileAddress = (slug: string, layer: string, path: string, line: number | null = null): string =>
	`/p/${slug}/file/${encodeURIComponent(layer)}/${path.split('/').map(encodeURIComponent).join('/')}${line !== null && line > 0 ? `?line=${line}` : ''}`;

/** The address of the bytes of a picture or sound in a layer. */
export const assetAddress = (slug: string, layer: string, path: string): string =>
	`/p/${slug}/api/asset/${encodeURIComponent(layer)}/${path.split('/').map(encodeURIComponent).join('/')}`;

/** The address of the table of a kind with the ticket of a record beside it. */
export const recordAddress = (slug: string, kind: string, id: string): string =>
	`/p/${slug}/tables/${encodeURIComponent(kind)}?ticket=${encodeURIComponent(`${kind}/${id}`)}`;

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

/** The query of an address that asks a table for rows: conditions, order and whatever else is given. */
export function rowsQuery(
	{
		where,
		filter,
		sort,
		as = null
	}: { where: readonly string[]; filter: string; sort: readonly string[]; as?: string | null },
	more: Readonly<Record<string, string>> = {}
): string {
	const parameters = new URLSearchParams([
		...where.map((one): [string, string] => ['where', one]),
		...(filter === '' ? [] : [['filter', filter] as [string, string]]),
		...(sort.length === 0 ? [] : [['sort', sort.join(',')] as [string, string]]),
		...(as === null ? [] : [['as', as] as [string, string]]),
		...Object.entries(more)
	]);
	return parameters.size === 0 ? '' : `?${parameters}`;
}

/** The address of the same page with other conditions, and some other parameters changed as above. */
export function withConditions(
	page: URL,
	where: readonly string[],
	changes: Record<string, string | null>
): string {
	const next = new URL(withParameters(page, changes), page);
	next.searchParams.delete('where');
	for (const one of where) next.searchParams.append('where', one);
	return next.pathname + next.search;
}

/** The query of a page without what is open beside it. */
export function viewQuery(page: URL): string {
	const next = new URL(page);
	next.searchParams.delete('ticket');
	next.searchParams.delete('field');
	return next.searchParams.toString();
}
