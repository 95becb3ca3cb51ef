import { statSync } from 'node:fs';
import { defineConfig } from 'vitest/config';
import { BaseSequencer, type TestSpecification } from 'vitest/node';
import { fileURLToPath } from 'node:url';

const alias = {
	$core: fileURLToPath(new URL('./src/lib/core', import.meta.url)),
	$lib: fileURLToPath(new URL('./src/lib', import.meta.url))
};

/** Folders from those with the longest files to those with the shortest. */
const ORDER = ['attack', 'interface', 'command', 'core'];

/** The longest files first, so that at the end nobody waits for one that was begun last. */
class LongestFirst extends BaseSequencer {
	override sort(files: TestSpecification[]): Promise<TestSpecification[]> {
		const order = ({ moduleId }: TestSpecification) =>
			ORDER.findIndex((name) => moduleId.includes(`/tests/${name}/`));
		const size = ({ moduleId }: TestSpecification) => statSync(moduleId).size;
		return Promise.resolve([...files].sort((a, b) => order(a) - order(b) || size(b) - size(a)));
	}
}

export default defineConfig({
	test: {
		// Each file of the application's tests starts servers of its own: more at a time would only wait for each other.
		maxWorkers: 2,
		// Files share what was loaded once, and one browser; `tests/seed.ts` puts back what a file may have set.
		isolate: false,
		sequence: { sequencer: LongestFirst },
		// Two, as few as there can be: each loads the application's modules for itself.
		projects: [
			{
				resolve: { alias },
				test: {
					name: 'core',
					isolate: false,
					include: ['tests/core/**/*.test.ts', 'tests/command/**/*.test.ts'],
					setupFiles: ['tests/seed.ts'],
					testTimeout: 180_000,
					hookTimeout: 120_000
				}
			},
			{
				resolve: { alias },
				test: {
					name: 'interface',
					isolate: false,
					include: ['tests/interface/**/*.test.ts', 'tests/attack/**/*.test.ts'],
					globalSetup: ['tests/interface/global.ts'],
					setupFiles: ['tests/seed.ts'],
					expect: { poll: { timeout: 30_000 } },
					// At length, an attack goes on for as long as its counts say.
					testTimeout: process.env.ATTACK === 'long' ? 7_200_000 : 300_000,
					hookTimeout: 120_000
				}
			}
		]
	}
});
