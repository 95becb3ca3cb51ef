// The tables that were looked at last, for each project in this browser.
const MOST = 5;
const keyOf = (slug: string) => `kettle-tables-${slug}`;

export interface RecentTable {
	kind: string;
	title: string;
}

/** The last ones, the newest first. */
export function recentTables(slug: string): RecentTable[] {
	try {
		const kept: unknown = JSON.parse(localStorage.getItem(keyOf(slug)) ?? '[]');
		return Array.isArray(kept) ? (kept as RecentTable[]).slice(0, MOST) : [];
	} catch {
		return [];
	}
}

/** Keeps a table as the one that was looked at last. */
export function keepTable(slug: string, { kind, title }: RecentTable): void {
	const all = [{ kind, title }, ...recentTables(slug).filter((one) => one.kind !== kind)];
	localStorage.setItem(keyOf(slug), JSON.stringify(all.slice(0, MOST)));
}
