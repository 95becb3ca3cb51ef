<script lang="ts">
	import { recordAddress } from '../frame/address';
	import type { OptionsChecked } from '$core/views';
	import { counted } from '$core/wording';
	import SnagMark from '$ui/frame/SnagMark.svelte';

	/** What is wrong in some combinations of options. */
	let { slug, checked }: { slug: string; checked: OptionsChecked } = $props();

	/** In which combinations it is so. */
	function when({ needs, seen }: OptionsChecked['findings'][number]): string {
		const some = needs.length > 0 ? `With ${needs.join(' and ')}` : 'In some combinations';
		if (seen === null) return needs.length === 0 ? 'Always' : some;
		return `${some}, for example ${seen.length === 0 ? 'without any option' : `only ${seen.join(' and ')}`}`;
	}
</script>

<section class="plate mt-4 p-4" aria-label="Combinations">
	<p class="font-semibold" role="status">
		{counted(checked.combinations, 'combination')} checked:
		{checked.findings.length === 0
			? 'no snags beyond those that your mod already has'
			: counted(checked.findings.length, 'snag')}.
	</p>
	<p class="text-[13px] text-steam">They include every option and every possible pair of options.</p>
	{#if checked.findings.length > 0}<ul class="mt-2 space-y-1.5">
			{#each checked.findings as finding, nth (nth)}
				<li class="flex gap-2">
					<SnagMark severity={finding.severity} />
					<span
						><span class="font-semibold">{when(finding)}:</span>
						{finding.message}
						{#if finding.kind && finding.record}<a
								class="follow"
								href={recordAddress(slug, finding.kind, finding.record)}>Open the record</a
							>{/if}</span
					>
				</li>
			{/each}
		</ul>{/if}
</section>
