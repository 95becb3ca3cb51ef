import { answer } from '$lib/server/answers';
import { step } from '$lib/server/plans';

export const POST = ({ params }) => answer(() => step(params.project, 'undo'));
