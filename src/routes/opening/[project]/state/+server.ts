import { answer } from '$lib/server/answers';
import { openedSoon } from '$lib/server/model';

/** Milliseconds after which it is told how far the opening is. */
const PATIENCE = 300;

/** How far the opening of a project is; answers at once when it is open. */
export const GET = ({ params }) => answer(() => openedSoon(params.project, PATIENCE));
