import { json } from '@sveltejs/kit';
import { guideJsonSchema } from '$core/guide';

/** The JSON Schema that field guides are held to, for editors. */
export const GET = () => json(guideJsonSchema());
