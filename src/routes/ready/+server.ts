import { text } from '@sveltejs/kit';

/** Says that the server has started. */
export const GET = () => text('ready');
