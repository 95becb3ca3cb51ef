<script lang="ts">
	import { counted, numbered } from '$core/wording';
	import type { ByteCell, ByteLine, BytesPage } from '$core/views';
	import ByteCells from './ByteCells.svelte';
	import { bytesInWords } from './bytes';

	/** The bytes of a file with what they belong to: a line for each row, value or part. */
	let {
		page,
		linkTo = () => '',
		go = null,
		layout = true
	}: {
		page: BytesPage;
		/** The address of a record. */
		linkTo?: (kind: string, id: string) => string;
		/** The address of this page from another byte on; null where only the beginning is shown. */
		go?: ((at: number) => string) | null;
		/** Whether somebody said what is in it. */
		layout?: boolean;
	} = $props();

	/** The value whose bytes are looked at. */
	let seen = $state<ByteCell | null>(null);
	const place = (at: number) => at.toString(16).padStart(4, '0');
	const NAMES: Record<ByteLine['of'], string> = {
		head: 'head',
		row: '',
		pool: '',
		sum: 'head',
		filler: '',
		nothing: 'not explained'
	};
	/** What a line is called. */
	const nameOf = ({ of, id }: ByteLine): string => (of === 'pool' ? '' : (id ?? NAMES[of]));
	/** Where another part begins, its name is said once. */
	const begins = (line: ByteLine, nth: number) =>
		line.section !== null && page.lines[nth - 1]?.section !== line.section;
</script>

<p class="mt-2 text-steam">
	{#if !layout}No layout says what is in this file.
	{:else if page.unexplained > 0}{counted(page.unexplained, 'byte')} of these
		{page.unexplained === 1 ? 'is' : 'are'} not explained by the layout.
	{:else}The layout explains all of these bytes.{/if}
	{#if page.changed !== null}<span class="text-copper"
			>My mod changes {counted(page.changed, 'byte')} of {numbered(page.size)}.</span
		>{/if}
	{#if seen}<span class="ml-2 font-mono text-ink">{bytesInWords(seen)}</span>{/if}
</p>
<!-- svelte-ignore a11y_no_noninteractive_tabindex (a region that scrolls must be reachable by keyboard) -->
<div
	class="plate mt-2 min-h-0 flex-1 overflow-auto py-2 font-mono text-[12px] leading-[16px]"
	role="region"
	aria-label="Bytes of the file, with what they belong to"
	tabindex="0"
>
	<table class="border-separate border-spacing-0">
		<thead class="sr-only"><tr><th>Byte</th><th>Belongs to</th><th>Values</th></tr></thead>
		<tbody>
			{#each page.lines as line, nth (line.from)}
				{#if begins(line, nth)}
					<tr
						><th
							colspan="3"
							scope="rowgroup"
							class="border-t border-line px-3 pt-2 pb-0.5 text-left font-sans text-[13px] font-semibold"
							>{line.section}
							<span class="font-normal text-steam"
								>{line.of === 'pool' ? 'values that rows point at' : 'rows'}</span
							></th
						></tr
					>
				{/if}
				<tr class="align-top">
					<th scope="row" class="px-3 py-0.5 text-right font-normal text-steam" title="Byte {line.from}"
						>{place(line.from)}</th
					>
					<td class="max-w-40 truncate py-0.5 pr-3 {line.of === 'nothing' ? 'text-steam italic' : ''}">
						{#if line.kind !== null && line.id !== null}<a class="follow" href={linkTo(line.kind, line.id)}
								>{line.id}</a
							>{:else}{nameOf(line)}{/if}
					</td>
					<td class="py-0.5 pr-3">
						<span class="flex flex-wrap gap-x-1 gap-y-1">
							<ByteCells cells={line.cells} {seen} see={(cell) => (seen = cell)} />
							{#if line.letters}<span class="self-center whitespace-pre text-steam">{line.letters}</span>{/if}
							{#if line.users !== null}<span class="self-center font-sans text-steam"
									>{line.users === 0
										? 'nothing points at it'
										: `${counted(line.users, 'address points', 'addresses point')} at it`}</span
								>{/if}
						</span>
					</td>
				</tr>
			{/each}
		</tbody>
	</table>
	{#if page.size === 0}<p class="px-3 font-sans text-steam">The file is empty.</p>{/if}
</div>
{#if !go && page.to < page.size}
	<p class="mt-1 text-steam">
		{counted(page.size - page.to, 'more byte')}
		{page.size - page.to === 1 ? 'is' : 'are'} read but not shown.
	</p>
{/if}
{#if go && (page.from > 0 || page.to < page.size)}
	<p class="mt-2 flex items-center gap-3">
		{#if page.from > 0}<a class="press slight" href={go(Math.max(0, page.from - 1))}>Bytes before</a>{/if}
		{#if page.to < page.size}<a class="press slight" href={go(page.to)}>Bytes after</a>{/if}
		<span class="text-steam">{numbered(page.from)} to {numbered(page.to - 1)} of {numbered(page.size)}</span>
		{#each page.sections as section (section.name)}<a class="follow" href={go(section.from)}>{section.name}</a
			>{/each}
	</p>
{/if}
