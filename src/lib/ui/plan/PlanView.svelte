<script lang="ts">
	import { counted } from '$core/wording';
	import Nick from '../frame/Nick.svelte';
	import { becomesOf, type Becomes, type KeptPlan } from '$core/change';
	import type { Snag } from '$core/checks';
	import type { ChangedLines } from '$core/edits';
	import Sentence from '../frame/Sentence.svelte';
	import SnagMark from '../frame/SnagMark.svelte';

	let {
		plan,
		lines = [],
		added = [],
		removed = []
	}: { plan: KeptPlan; lines?: ChangedLines[]; added?: Snag[]; removed?: Snag[] } = $props();
	const linesOf = (path: string) => lines.find((one) => one.path === path);

	const WHAT: Record<Becomes, string> = {
		new: 'new file',
		gone: 'file removed',
		moved: 'moves here',
		changed: 'changed',
		replaced: 'replaced'
	};
	const shown = (value: string | null) => (value === null || value === '' ? '—' : value);
</script>

{#snippet shownLine(line: string, look: string)}
	<div class="whitespace-pre">
		{line.match(/^\s*/)![0].replaceAll('\t', '  ')}<span class={look}>{line.trimStart() || ' '}</span>
	</div>
{/snippet}

{#if plan.values.length > 0}
	<table class="w-full border-collapse text-left">
		<thead class="text-[12px] text-steam">
			<tr
				><th class="py-1 font-normal">Record</th><th class="font-normal">Field</th><th class="font-normal"
					>Before</th
				><th class="font-normal">After</th></tr
			>
		</thead>
		<tbody>
			{#each plan.values.slice(0, 200) as value, at (at)}
				<tr class="border-t border-line align-top">
					<td class="max-w-52 py-1 pr-3 break-words"
						>{value.name}<Nick
							on={{ kind: value.kind, record: value.id }}
						/>{#if value.name !== value.id}&nbsp;<code class="text-[12px] text-steam">{value.id}</code
							>{/if}</td
					>
					<td class="py-1 pr-3"
						>{value.field}{#if value.follows}<span class="block text-[12px] text-steam">{value.follows}</span
							>{/if}</td
					>
					<td class="max-w-40 py-1 pr-3 font-mono break-words text-steam">{shown(value.before)}</td>
					<td class="max-w-40 py-1 font-mono break-words text-copper">{shown(value.after)}</td>
				</tr>
			{/each}
		</tbody>
	</table>
{/if}
<h3 class="mt-3 mb-1 font-semibold">Files of my mod</h3>
<ul>
	{#each plan.changes as change (change.path)}
		<li>
			<code>{change.path}</code>
			<span class="text-steam"
				>{WHAT[becomesOf(change)]}{change.movedFrom ? `, was ${change.movedFrom}` : ''}, {change.of === 'text'
					? `${change.encoding}${change.bom ? ' with byte-order mark' : ''}`
					: 'no text'}</span
			>
			{#each linesOf(change.path)?.runs ?? [] as run (run.line)}
				<div class="my-1 flex gap-3 overflow-x-auto font-mono text-[12px] leading-[18px]">
					<span class="w-8 shrink-0 text-right text-steam">{run.line}</span>
					<div>
						{#each run.removed as line, nth (nth)}{@render shownLine(line, 'text-steam line-through')}{/each}
						{#each run.added as line, nth (nth)}{@render shownLine(line, 'text-copper')}{/each}
					</div>
				</div>
			{/each}
			{#if (linesOf(change.path)?.more ?? 0) > 0}<p class="pl-11 text-[12px] text-steam">
					and {counted(linesOf(change.path)!.more, 'more place')}
				</p>{/if}
		</li>
	{/each}
</ul>
{#each plan.notes as note (note)}<p class="mt-2 text-steam">{note}</p>{/each}
{#if removed.length > 0}
	<h3 class="mt-3 mb-1 font-semibold text-verdigris">Fixes</h3>
	{#each removed as snag (snag.id)}<p class="flex gap-2 py-0.5">
			<SnagMark severity={snag.severity} /><span><Sentence text={snag.message} /></span>
		</p>{/each}
{/if}
{#if added.length > 0}
	<h3 class="mt-3 mb-1 font-semibold text-scald">New snags</h3>
	{#each added as snag (snag.id)}<p class="flex gap-2 py-0.5">
			<SnagMark severity={snag.severity} /><span><Sentence text={snag.message} /></span>
		</p>{/each}
{/if}
