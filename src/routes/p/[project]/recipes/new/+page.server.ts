import { NotPossible } from '$core/edits';
import { show } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { recordingOf } from '$lib/server/views/recipes';

/** Steps that a recipe may have. */
const MOST = 200;

export const load = ({ params, url }) =>
	show(async () => {
		const ids = (url.searchParams.get('steps') ?? '').split(',').map(Number).filter(Number.isSafeInteger);
		try {
			return { recording: await recordingOf(await modelOf(params.project), ids.slice(0, MOST)), fault: null };
		} catch (fault) {
			if (!(fault instanceof NotPossible)) throw fault;
			return { recording: null, fault: fault.message };
		}
	});
