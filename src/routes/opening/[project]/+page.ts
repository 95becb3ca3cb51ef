/** Where to go on once the project is open: only ever into that project. */
export const load = ({ params, url }) => {
	const home = `/p/${params.project}`;
	const to = url.searchParams.get('to') ?? '';
	return { slug: params.project, to: to.startsWith(`${home}/`) ? to : `${home}/find` };
};
