import { fileURLToPath } from 'node:url';
import { sveltekit } from '@sveltejs/kit/vite';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig, type Plugin } from 'vite';

/** Keeps the tables of all encodings, and what they need of Node.js, out of the browser and its workers. */
const withoutEncodings = (always = false): Plugin => ({
	name: 'without-encodings',
	enforce: 'pre',
	resolveId: (id, _, options) =>
		id === 'iconv-lite' && (always || !options.ssr)
			? fileURLToPath(new URL('src/lib/core/text/no-encodings.ts', import.meta.url))
			: undefined
});

export default defineConfig({
	plugins: [withoutEncodings(), tailwindcss(), sveltekit()],
	worker: { plugins: () => [withoutEncodings(true)] },
	build: { chunkSizeWarningLimit: 900, rolldownOptions: { experimental: { lazyBarrel: true } } }
});
