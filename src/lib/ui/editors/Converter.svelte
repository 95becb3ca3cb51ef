<script lang="ts">
	import { readingsOf } from '$core/numbers';
	import { arrowKeys } from '../frame/move';
	import { keep, pocket } from '../frame/pocket.svelte';

	/** Turns a value into the other ways of writing it; what one takes goes into the pocket and in hand. */
	let { slug }: { slug: string } = $props();

	let typed = $state('');
	let perSecond = $state(20);
	const readings = $derived(readingsOf(typed, perSecond));

	async function take(what: string, value: string) {
		await keep(slug, { label: `${typed.trim()} as ${what}`, value, about: {} });
		pocket.inHand = pocket.items.find((item) => item.value === value) ?? pocket.inHand;
	}
</script>

<section class="border-t border-line px-4 py-2" aria-label="Convert a value" data-testid="converter">
	<div class="flex items-center gap-2">
		<input
			class="box min-w-0 flex-1 font-mono"
			bind:value={typed}
			placeholder="25 %, 0x1F, bits 0 3, 61°30′N, 3 s"
			aria-label="Value to convert"
		/>
		<label class="flex items-center gap-1 text-[12px] text-steam"
			><input class="box w-16 text-right font-mono" type="number" min="1" bind:value={perSecond} />ticks a
			second</label
		>
	</div>
	{#if typed.trim() !== '' && readings.length === 0}<p class="mt-1 text-[12px] text-steam">
			Enter a number, bits, a share, a duration, degrees or a colour.
		</p>{/if}
	<ul class="mt-1" {@attach arrowKeys}>
		{#each readings as { what, value } (what)}
			<li class="flex items-center gap-2 py-0.5">
				<span class="w-28 text-[12px] text-steam">{what}</span><code class="min-w-0 flex-1 truncate"
					>{value}</code
				>
				<button data-move class="press px-2 py-0 text-[12px]" onclick={() => void take(what, value)}
					>in hand</button
				>
			</li>
		{/each}
	</ul>
</section>
