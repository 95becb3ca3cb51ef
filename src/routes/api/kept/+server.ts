import { answer } from '$lib/server/answers';
import { keptFiles } from '$lib/server/archive';

/** The project files that this server keeps, of one project where it is named. */
export const GET = ({ url }) => answer(() => keptFiles(url.searchParams.get('of') ?? undefined));
