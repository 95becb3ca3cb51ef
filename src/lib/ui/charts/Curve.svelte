<script lang="ts">
	import { scaleLinear } from 'd3-scale';

	/** The numbers of a list as a curve whose points can be moved: by drag, or with the arrow keys. */
	let {
		title,
		values,
		base,
		height,
		save
	}: {
		title: string;
		values: string[];
		/** What the base has in each place; null where it has nothing. */
		base: (string | null)[];
		height: number;
		/** Writes the numbers that changed, by place. */
		save: (values: Map<number, string>) => Promise<boolean>;
	} = $props();

	const WIDTH = 560;
	const EDGE = 8;
	/** Numbers that were moved and are not written yet. */
	let moved = $state<Record<number, number>>({});
	let svg = $state<SVGSVGElement>();

	const numbers = $derived(values.map((value, nth) => moved[nth] ?? Number(value)));
	/** Decimals that the list is written with; a step is one of the last of them. */
	const decimals = $derived(Math.max(0, ...values.map((value) => /\.(\d+)/.exec(value)?.[1]!.length ?? 0)));
	const step = $derived(10 ** -decimals);
	// The axis stays while a point is moved.
	const written = $derived(values.map(Number));
	const low = $derived(
		Math.min(...written, ...base.flatMap((value) => (value === null ? [] : [Number(value)])))
	);
	const high = $derived(
		Math.max(...written, ...base.flatMap((value) => (value === null ? [] : [Number(value)])))
	);
	const room = $derived(high > low ? (high - low) * 0.25 : Math.max(step * 5, Math.abs(high) * 0.25));
	const y = $derived(scaleLinear([low - room, high + room], [height - EDGE, EDGE]));
	const x = $derived(scaleLinear([0, Math.max(1, values.length - 1)], [EDGE, WIDTH - EDGE]));
	const line = (all: number[]) =>
		all.map((value, nth) => `${nth === 0 ? 'M' : 'L'}${x(nth)} ${y(value)}`).join('');
	/** What the base has, as far as it goes. */
	const below = $derived(
		base.slice(
			0,
			Math.max(
				0,
				[...base, null].findIndex((value) => value === null || !Number.isFinite(Number(value)))
			)
		)
	);
	const round = (value: number) => Number((Math.round(value / step) * step).toFixed(decimals));

	async function keep() {
		const next = new Map(
			Object.entries(moved)
				.filter(([nth, value]) => value !== Number(values[Number(nth)]))
				.map(([nth, value]): [number, string] => [Number(nth), value.toFixed(decimals)])
		);
		if (next.size > 0) await save(next);
		moved = {};
	}

	function drag(event: PointerEvent, nth: number) {
		const handle = event.currentTarget as Element;
		handle.setPointerCapture(event.pointerId);
		const follow = (next: PointerEvent) => {
			const box = svg!.getBoundingClientRect();
			moved[nth] = round(y.invert(((next.clientY - box.top) / box.height) * height));
		};
		const end = () => {
			handle.removeEventListener('pointermove', follow as EventListener);
			void keep();
		};
		handle.addEventListener('pointermove', follow as EventListener);
		handle.addEventListener('pointerup', end, { once: true });
	}

	function key(event: KeyboardEvent, nth: number) {
		const by = { ArrowUp: 1, ArrowDown: -1, PageUp: 10, PageDown: -10 }[event.key];
		if (by !== undefined) {
			event.preventDefault();
			event.stopPropagation();
			moved[nth] = round(numbers[nth]! + by * step);
		} else if (event.key === 'Enter') void keep();
		else if (event.key === 'Escape' && nth in moved) {
			event.stopPropagation();
			moved = {};
		}
	}
</script>

<svg
	bind:this={svg}
	viewBox="0 0 {WIDTH} {height}"
	preserveAspectRatio="none"
	class="my-1 block w-full rounded bg-enamel"
	style="height: {height}px"
	role="group"
	aria-label="{title} as a curve"
>
	<title>{title}: drag a point, or move it with the arrow keys and press Enter</title>
	{#if below.length > 1}<path
			d={line(below.map(Number))}
			fill="none"
			stroke="var(--rim)"
			stroke-width="1"
			stroke-dasharray="3 3"
			vector-effect="non-scaling-stroke"
		/>{/if}
	<path
		d={line(numbers)}
		fill="none"
		stroke="var(--copper)"
		stroke-width="1.5"
		vector-effect="non-scaling-stroke"
	/>
	{#each numbers as value, nth (nth)}
		<path
			d="M{x(nth)} {y(value)}h0.01"
			stroke={nth in moved ? 'var(--brass)' : 'var(--copper)'}
			stroke-width="11"
			stroke-linecap="round"
			vector-effect="non-scaling-stroke"
			class="cursor-ns-resize"
			style="touch-action: none"
			role="slider"
			tabindex="0"
			aria-label="{title} {nth + 1}"
			aria-orientation="vertical"
			aria-valuenow={value}
			aria-valuemin={low - room}
			aria-valuemax={high + room}
			aria-valuetext={String(value)}
			onpointerdown={(event) => drag(event, nth)}
			onkeydown={(event) => key(event, nth)}
			onblur={() => void keep()}
		/>
	{/each}
</svg>
