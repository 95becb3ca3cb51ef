import adapter from '@sveltejs/adapter-node';
import { vitePreprocess } from '@sveltejs/vite-plugin-svelte';

/** @type {import('@sveltejs/kit').Config} */
export default {
	preprocess: vitePreprocess(),
	kit: {
		adapter: adapter({ out: 'build/app', envPrefix: '' }),
		// Host and Origin are checked for every request in hooks.server.ts, which is stricter.
		csrf: { trustedOrigins: [] },
		alias: { $core: 'src/lib/core', $ui: 'src/lib/ui' }
	}
};
