<script lang="ts">
	import type { SourceView } from '$core/views';

	/** The file around a record, with the record's own lines marked. */
	let { source }: { source: SourceView } = $props();
	const ends: Record<string, string> = {
		lf: 'LF',
		crlf: 'CRLF',
		cr: 'CR',
		mixed: 'mixed line ends',
		none: 'one line'
	};
	const tone = $derived(source.owner === 'me' ? 'text-copper' : source.owner === 'others' ? 'text-plum' : '');
</script>

<figure class="mt-2">
	<figcaption class="flex flex-wrap gap-x-2 text-[12px] text-steam">
		<span class={tone}>{source.layer}</span><code>{source.path}</code><span
			>lines {source.from}–{source.to} · {source.encoding}{source.bom ? ' with byte-order mark' : ''} · {ends[
				source.eol
			]}</span
		>
	</figcaption>
	<!-- svelte-ignore a11y_no_noninteractive_tabindex (a region that scrolls must be reachable by keyboard) -->
	<div
		class="mt-1 overflow-x-auto rounded-lg border border-line bg-enamel py-1 font-mono text-[12px] leading-[18px]"
		role="region"
		aria-label="Source in {source.layer}"
		tabindex="0"
	>
		{#each source.lines as line (line.number)}
			<div
				class="flex w-max min-w-full gap-3 px-2 {line.inside ? 'bg-wash' : 'text-steam'}"
				data-inside={line.inside || undefined}
			>
				<span class="w-8 shrink-0 text-right text-steam select-none" aria-hidden="true">{line.number}</span
				><span class="whitespace-pre">{line.text.replaceAll('\t', ' → ')}</span>
			</div>
		{/each}
	</div>
</figure>
