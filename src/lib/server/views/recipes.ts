// Recipes of the field guide, and those that are being made of steps of the ledger.
import { NotPossible, recipeFrom, stepInWords } from '$core/edits';
import { originOf } from '$core/guide';
import type { RecipeView, RecordingView } from '$core/views';
import { stepsNamed } from '../db/ledger';
import { db } from '../db/pool';
import { NotThere } from '../faults';
import type { Model } from '../model';

/** All recipes, in the order of the guide. */
export function recipesOf({ stack, project }: Model): RecipeView[] {
	const written = { shared: project.guide, mine: project.ownGuide };
	return Object.entries(stack.guide.recipes ?? {}).map(([name, recipe]) => ({
		name,
		recipe,
		said: recipe.steps.map(stepInWords),
		origin: originOf(written, ['recipes', name], recipe) ?? 'found'
	}));
}

/** A recipe made of steps of the ledger. @throws NotThere, NotPossible */
export async function recordingOf(model: Model, ids: readonly number[]): Promise<RecordingView> {
	const rows = await stepsNamed(db(), model.project.slug, ids);
	if (rows.length === 0) throw new NotThere('None of these steps is still applied.');
	const { recipe, was } = recipeFrom(
		model.stack,
		rows.at(-1)!.title.slice(0, 200),
		rows.map(({ id, intention }) => {
			if (intention) return intention;
			throw new NotPossible(
				`Step ${id} was written by another version and cannot be repeated; choose other steps.`
			);
		})
	);
	return {
		steps: rows.map(({ id, title }) => ({ id, title })),
		recipe,
		was,
		said: recipe.steps.map(stepInWords)
	};
}
