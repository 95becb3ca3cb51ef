<script lang="ts">
	import { counted, listed } from '$core/wording';
	import type { MapPage, MapView } from '$core/views';

	/** What is there day by day: bars to choose from, with gaps and days on which things pile up. */
	let {
		days,
		counts,
		day,
		choose
	}: {
		days: NonNullable<MapPage['map']['days']>;
		counts: MapView['days'];
		/** The day that is shown; null for all. */
		day: number | null;
		choose: (day: number | null) => void;
	} = $props();

	let playing = $state(false);
	const most = $derived(Math.max(1, ...counts.map(({ count }) => count)));
	const said = $derived(counts.find((one) => one.day === day));
	const piles = $derived(counts.filter(({ is }) => is === 'pile'));
	const gaps = $derived(counts.filter(({ is }) => is === 'gap'));
	const title = $derived(days.title.toLowerCase());
	const daysOf = (some: typeof counts) =>
		listed(some.slice(0, 4).map((one) => String(one.day))) + (some.length > 4 ? ' and others' : '');

	const next = (from: number | null, by: number): number => {
		const count = days.last - days.first + 1;
		const at = from === null ? (by > 0 ? days.first - 1 : days.last + 1) : from;
		return days.first + ((((at + by - days.first) % count) + count) % count);
	};
	$effect(() => {
		if (!playing) return;
		const timer = setTimeout(() => choose(next(day, 1)), 700);
		return () => clearTimeout(timer);
	});
	function key(event: KeyboardEvent) {
		const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[event.key];
		if (by !== undefined) choose(next(day, by));
		else if (event.key === 'Home') choose(days.first);
		else if (event.key === 'End') choose(days.last);
		else return;
		event.preventDefault();
	}
</script>

<section class="plate flex items-center gap-3 px-3 py-2" aria-label="What is there when">
	<button class="press slight shrink-0" aria-pressed={playing} onclick={() => (playing = !playing)}
		>{playing ? 'Stop' : 'Play'}</button
	>
	<button
		class="press slight shrink-0"
		aria-pressed={day === null}
		onclick={() => ((playing = false), choose(null))}>All {title}s</button
	>
	<div
		class="flex h-12 min-w-0 flex-1 items-end gap-px"
		role="slider"
		tabindex="0"
		aria-label={days.title}
		aria-valuemin={days.first}
		aria-valuemax={days.last}
		aria-valuenow={day ?? days.first}
		aria-valuetext={said ? `${days.title} ${said.day}, ${counted(said.count, 'thing')}` : `all ${title}s`}
		onkeydown={key}
	>
		{#each counts as one (one.day)}
			<!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions (the slider has the keys) -->
			<span
				class="relative flex h-full min-w-0 flex-1 cursor-pointer flex-col justify-end"
				title="{days.title} {one.day}: {counted(one.count, 'thing')}{one.is === 'pile'
					? ', many more than on other days'
					: one.is === 'gap'
						? ', nothing is there'
						: ''}"
				onclick={() => choose(one.day)}
			>
				<span
					class="block rounded-t-sm {one.day === day
						? 'bg-brass'
						: one.is === 'pile'
							? 'bg-saffron'
							: 'bg-steam/50'} {one.is === 'gap' ? 'border-b-2 border-dashed border-scald' : ''}"
					style="height: {Math.max(2, (one.count / most) * 30)}px"
				></span>
				<span
					class="block text-center font-mono text-[10px] leading-3 {one.day === day
						? 'font-semibold text-ink'
						: 'text-steam'}">{one.day}</span
				>
			</span>
		{/each}
	</div>
	<p class="w-56 shrink-0 text-[12px] leading-4 text-steam" aria-live="polite">
		{#if said}<span class="text-ink">{days.title} {said.day}: {counted(said.count, 'thing')}.</span>{/if}
		{#if piles.length > 0}{`Many on ${title} ${daysOf(piles)}. `}{/if}
		{#if gaps.length > 0}{`Nothing on ${title} ${daysOf(gaps)}. `}{/if}
		{#if days.repeats}After {title} {days.last} it begins again.{/if}
	</p>
</section>
