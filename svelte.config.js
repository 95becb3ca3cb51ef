import adapter from '@sveltejs/adapter-node';
import { vitePreprocess } from '@sveltejs/vite-plugin-svelte';

/** @type {import('@sveltejs/kit').Config} */
export default {
	preprocess: vitePreprocess(),
	kit: {
		adapter: adapter({
			out: 'build/app',
			envPrefix: '',
			// It is served on this machine: packing the files would cost more than it saves.
			precompress: false
		}),
		// Host and Origin are checked for every request in scripts/app.mjs, which is stricter.
		csrf: { trustedOrigins: [] },
		csp: {
			mode: 'hash',
			directives: {
				'default-src': ['none'],
				'script-src': ['self'],
				// Charts and columns are laid out by attributes.
				'style-src': ['self', 'unsafe-inline'],
				'img-src': ['self', 'data:'],
				'font-src': ['self'],
				'connect-src': ['self'],
				'worker-src': ['self'],
				'media-src': ['self', 'data:'],
				'form-action': ['self'],
				'base-uri': ['none'],
				'frame-ancestors': ['none'],
				'object-src': ['none']
			}
		},
		alias: { $core: 'src/lib/core', $ui: 'src/lib/ui' }
	}
};
