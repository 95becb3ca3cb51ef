// The folders that were chosen last, on this machine's browser.
const KEY = 'kettle-folders';
const MOST = 6;

/** The last ones, the newest first. */
export function recentFolders(): string[] {
	try {
		const kept: unknown = JSON.parse(localStorage.getItem(KEY) ?? '[]');
		return Array.isArray(kept) ? kept.filter((one) => typeof one === 'string').slice(0, MOST) : [];
	} catch {
		return [];
	}
}

/** Keeps a folder as the one that was chosen last. */
export function keepFolder(path: string): void {
	const all = [path, ...recentFolders().filter((one) => one !== path)].slice(0, MOST);
	localStorage.setItem(KEY, JSON.stringify(all));
}
