import { defineConfig } from 'vitest/config';
import { fileURLToPath } from 'node:url';

const alias = {
	$core: fileURLToPath(new URL('./src/lib/core', import.meta.url)),
	$lib: fileURLToPath(new URL('./src/lib', import.meta.url))
};

export default defineConfig({
	test: {
		projects: [
			{
				resolve: { alias },
				test: { name: 'core', include: ['tests/core/**/*.test.ts'], testTimeout: 180_000 }
			},
			{
				resolve: { alias },
				test: { name: 'command', include: ['tests/command/**/*.test.ts'], testTimeout: 180_000 }
			},
			{
				resolve: { alias },
				test: {
					name: 'attack',
					include: ['tests/attack/**/*.test.ts'],
					globalSetup: ['tests/interface/global.ts'],
					fileParallelism: false,
					// At length, an attack goes on for as long as its counts say.
					testTimeout: process.env.ATTACK === 'long' ? 7_200_000 : 300_000,
					hookTimeout: 120_000
				}
			},
			{
				resolve: { alias },
				test: {
					name: 'interface',
					include: ['tests/interface/**/*.test.ts'],
					globalSetup: ['tests/interface/global.ts'],
					fileParallelism: false,
					expect: { poll: { timeout: 10_000 } },
					testTimeout: 300_000,
					hookTimeout: 120_000
				}
			}
		]
	}
});
