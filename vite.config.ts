import { sveltekit } from '@sveltejs/kit/vite';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig, type Plugin } from 'vite';

/** Few files for a page to fetch: what the same pages share is one, and pieces under 30 kB go to the nearest. */
const fewFiles: Plugin = {
	name: 'few-files',
	configEnvironment(name) {
		if (name !== 'client') return;
		const together = {
			name: 'shared',
			entriesAware: true,
			entriesAwareMergeThreshold: 30_000,
			minShareCount: 2
		};
		return { build: { rolldownOptions: { output: { codeSplitting: { groups: [together] } } } } };
	}
};

export default defineConfig({
	plugins: [tailwindcss(), sveltekit(), fewFiles],
	build: { chunkSizeWarningLimit: 900 }
});
