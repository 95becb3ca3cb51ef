<script lang="ts">
	import { counted } from '$core/wording';
	import type { Counts, Vouched } from '$core/checks';

	/** How near the mod is to loading cleanly: the needle, and the same in words. */
	let { counts, vouched, href }: { counts: Counts; vouched: Vouched; href: string } = $props();

	// The needle leaves the fine end with the first snag that blocks and nears the stop with every further one.
	const share = $derived(
		counts.blocks > 0 ? 0.35 + 0.65 * (1 - 1 / (1 + counts.blocks / 3)) : counts.warns > 0 ? 0.25 : 0.02
	);
	const angle = $derived(-120 + 240 * share);
	const words = $derived(
		counts.blocks > 0
			? `${counts.blocks} block`
			: counts.warns > 0
				? `${counts.warns} warn`
				: vouched.whole
					? 'loads cleanly'
					: 'no snags found'
	);
	/** How far that goes, where the game is not described well enough to say that it loads. */
	const partly = $derived(
		counts.blocks + counts.warns > 0 || vouched.whole
			? ''
			: !vouched.guided
				? 'no field guide yet'
				: `${Math.floor((100 * vouched.known) / Math.max(1, vouched.values))} % of values checked`
	);
	const tone = $derived(
		counts.blocks > 0
			? 'text-scald'
			: counts.warns > 0
				? 'text-saffron'
				: vouched.whole
					? 'text-verdigris'
					: 'text-rim'
	);

	const arc = (from: number, to: number) => {
		const at = (degrees: number) => {
			const radians = ((degrees - 90) * Math.PI) / 180;
			return `${22 + 17 * Math.cos(radians)} ${22 + 17 * Math.sin(radians)}`;
		};
		return `M${at(from)}A17 17 0 ${to - from > 180 ? 1 : 0} 1 ${at(to)}`;
	};
	const rest = $derived(
		counts.blocks > 0 && counts.warns + counts.note > 0
			? `${counts.warns} warn, ${counted(counts.note, 'note')}`
			: ''
	);
</script>

<a
	{href}
	class="flex items-center gap-2.5 rounded-full pr-3"
	aria-label="Dial: {words} {rest || partly ? `${rest || partly}. ` : ''}Go to the snags."
	data-testid="dial"
>
	<svg width="44" height="44" viewBox="0 0 44 44" aria-hidden="true">
		<circle cx="22" cy="22" r="21" fill="var(--porcelain)" stroke="var(--brass)" stroke-width="2" />
		<path d={arc(-120, -36)} fill="none" stroke="var(--verdigris)" stroke-width="3" />
		<path d={arc(-34, 34)} fill="none" stroke="var(--saffron)" stroke-width="3" />
		<path d={arc(36, 120)} fill="none" stroke="var(--scald)" stroke-width="3" />
		<g style="transform: rotate({angle}deg); transform-origin: 22px 22px; transition: transform 400ms">
			<path d="M20.8 25 22 7l1.2 18z" fill="var(--rim)" />
		</g>
		<circle cx="22" cy="22" r="3" fill="var(--brass)" />
	</svg>
	<span class="min-w-21 leading-tight font-semibold whitespace-nowrap {tone}" aria-live="polite">
		{words}
		{#if rest || partly}
			<span class="block text-[12px] font-normal text-steam">{rest || partly}</span>
		{:else if counts.blocks === 0 && counts.note > 0}
			<span class="block text-[12px] font-normal text-steam">{counted(counts.note, 'note')}</span>
		{/if}
	</span>
</a>
