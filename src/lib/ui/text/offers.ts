// Ids offered while one types in a script: at the places of calls where an id belongs, by the names that players see.
import { autocompletion, type CompletionContext, type CompletionResult } from '@codemirror/autocomplete';
import type { Extension } from '@codemirror/state';
import { callAtCursor } from './place';

/** Where scripts name records: an argument of a call, or (0) a comparison. */
export interface IdPlace {
	call: string;
	argument: number;
	kinds: string[];
}

interface Hit {
	kind: string;
	record: string;
	name: string | null;
	kindTitle: string;
}

async function offered(
	slug: string,
	places: readonly IdPlace[],
	context: CompletionContext
): Promise<CompletionResult | null> {
	const line = context.state.doc.lineAt(context.pos);
	const found = callAtCursor(line.text.slice(0, context.pos - line.from));
	const place =
		found && places.find(({ call, argument }) => call === found.call && argument === found.argument);
	if (!found || !place) return null;
	const answers = await Promise.all(
		place.kinds.map((kind) =>
			fetch(`/p/${slug}/api/find?${new URLSearchParams({ q: found.typed, kind })}`)
				.then(async (answer) => (answer.ok ? ((await answer.json()) as { records: Hit[] }).records : []))
				.catch((): Hit[] => [])
		)
	);
	if (context.aborted) return null;
	return {
		from: line.from + found.from,
		filter: false,
		options: answers.flat().map(({ record, name, kindTitle }) => ({
			label: name && name !== record ? name : record,
			detail: name && name !== record ? record : kindTitle,
			apply: record
		}))
	};
}

/** Offers ids in a sheet. */
export const offersFor = (slug: string, places: readonly IdPlace[]): Extension =>
	places.length === 0
		? []
		: autocompletion({
				override: [(context) => offered(slug, places, context)],
				icons: false,
				activateOnTypingDelay: 150
			});
