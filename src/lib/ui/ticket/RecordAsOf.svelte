<script lang="ts">
	import { X } from '$ui/frame/icons';
	import type { RecordAsOf } from '$core/views';

	/** A record as it is up to a layer: to read, beside what the game uses with all layers. */
	let { record, close, now }: { record: RecordAsOf; close: string; now: string } = $props();
</script>

<section class="h-full overflow-auto px-5 py-4" aria-label="{record.name ?? record.id} as of {record.asOf}">
	<div class="flex items-start justify-between gap-3">
		<div>
			<p class="text-steam">{record.kindTitle} <code>{record.id}</code></p>
			<h2>{record.name ?? record.id}</h2>
		</div>
		<a class="rounded p-1 hover:bg-wash" href={close} aria-label="Close" data-sveltekit-noscroll
			><X size={18} /></a
		>
	</div>
	<p class="mt-2 border-l-4 border-brass bg-wash px-3 py-1">
		As of {record.asOf}. <a class="follow" href={now}>Edit it with all layers</a>
	</p>
	<table class="mt-3 w-full text-left">
		<thead class="text-[12px] text-steam">
			<tr
				><th class="font-normal">Field</th><th class="font-normal">Value</th><th class="font-normal">From</th
				><th class="font-normal">With all layers</th></tr
			>
		</thead>
		<tbody>
			{#each record.values as { title, value, layer, now: final }, nth (nth)}
				<tr class="border-t border-line align-top">
					<th class="py-1 pr-3 font-normal" scope="row">{title}</th>
					<td class="py-1 pr-3 font-mono text-[13px] break-words">{value || 'nothing'}</td>
					<td class="py-1 pr-3 text-steam">{layer}</td>
					<td class="py-1 font-mono text-[13px] break-words">
						{#if final === value}<span class="font-sans text-steam">the same</span>{:else}{final ||
								'nothing'}{/if}
					</td>
				</tr>
			{/each}
		</tbody>
	</table>
</section>
