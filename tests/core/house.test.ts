// What the docs show of the house is what the imports say.
import { readFileSync } from 'node:fs';
import { expect, test } from 'vitest';
import { imports, picture } from '../../scripts/house.mjs';
import { ROOMS } from '../../scripts/rooms.mjs';

test('the picture of the storeys and rooms is the one that the imports make', () => {
	expect(picture(), 'npm run house makes it anew').toBe(readFileSync('docs/house.svg', 'utf8'));
});

test('each room knows only those before it', () => {
	const order = new Map(ROOMS.map((name, at) => [name, at]));
	for (const [from, targets] of imports())
		for (const to of targets.keys())
			if (order.has(from) && order.has(to))
				expect(order.get(to), `${from} imports ${to}`).toBeLessThan(order.get(from)!);
});
