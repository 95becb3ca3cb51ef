import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { recipesOf } from '$lib/server/views/recipes';

export const load = ({ params }) => show(async () => ({ recipes: recipesOf(await modelOf(params.project)) }));
