import { answer } from '$lib/server/answers';
import { modelOf } from '$lib/server/model';
import { sharePage } from '$lib/server/share';

/** The texts that go along with my mod, as they would be. */
export const GET = ({ params }) => answer(async () => sharePage(await modelOf(params.project)));
