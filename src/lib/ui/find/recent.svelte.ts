// The last searches of a project, kept by the browser.
const MOST = 8;

const keyOf = (slug: string) => `searches ${slug}`;

/** The last searches, newest first. */
export function recentSearches(slug: string): string[] {
	try {
		const kept: unknown = JSON.parse(localStorage.getItem(keyOf(slug)) ?? '[]');
		return Array.isArray(kept) ? kept.filter((entry) => typeof entry === 'string').slice(0, MOST) : [];
	} catch {
		return [];
	}
}

/** Puts a search in front of the others; what it only goes on from is taken out. */
export function keepSearch(slug: string, query: string): void {
	const text = query.trim();
	if (text.length < 2) return;
	const others = recentSearches(slug).filter((entry) => entry !== text && !text.startsWith(entry));
	localStorage.setItem(keyOf(slug), JSON.stringify([text, ...others].slice(0, MOST)));
}
