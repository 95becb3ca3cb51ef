import { redirect } from '@sveltejs/kit';

export const load = ({ params }) => redirect(307, `/p/${params.project}/find`);
