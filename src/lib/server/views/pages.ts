// Pages of text that scripts show, as players see them.
import { loadingOf, type Loading } from '$core/links';
import { inShownOrder, pagesIn } from '$core/scripts';
import { markedUp } from '$core/text';
import type { PagesPage, PageScript } from '$core/views';
import type { Model } from '../model';

/** The way from a first script to another by what loads what; null where there is none. */
function wayTo({ loads, scripts, entries }: Loading, path: string): PageScript['loadedBy'] | null {
	const layers = new Map(scripts.map(({ path, layer }) => [path, layer.id]));
	const way: PageScript['loadedBy'] = [];
	const seen = new Set([path]);
	for (let at = path; !entries.includes(at);) {
		const up = [...loads].find(([from, list]) => !seen.has(from) && list.some((load) => load.path === at));
		if (!up) return null;
		const [from, list] = up;
		seen.add(from);
		way.unshift({ path: from, layer: layers.get(from)!, line: list.find((load) => load.path === at)!.line });
		at = from;
	}
	return way;
}

/** The pages of a game. */
export function pagesPage({ stack, project }: Model): PagesPage {
	const guides = stack.guide.pages ?? [];
	const markup = stack.guide.markup ?? [];
	const loading = loadingOf(stack);
	const calls = guides.map(({ call }) => call);
	return {
		slug: project.slug,
		calls,
		scripts: loading.scripts.flatMap(({ path, layer }): PageScript[] => {
			const code = layer.files.get(path)!.text?.text ?? '';
			if (!calls.some((call) => code.includes(call))) return [];
			const pages = pagesIn(code, guides);
			if (pages.length === 0) return [];
			const shown = inShownOrder(pages, guides);
			return [
				{
					path,
					layer: { id: layer.id, title: layer.title, owner: layer.owner },
					reversed: pages.some(({ by }) => guides[by]!.reversed === true),
					loadedBy: wayTo(loading, path) ?? [],
					pages: shown.map(({ nth, line, title, text }) => ({
						nth,
						line,
						title,
						text,
						pieces: markedUp(text, markup)
					}))
				}
			];
		})
	};
}
