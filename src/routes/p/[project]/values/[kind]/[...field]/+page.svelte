<script lang="ts">
	import { either } from '$core/wording';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { scaleLinear } from 'd3-scale';
	import { makePause } from '$ui/frame/pause';
	import { withParameters, withTicket } from '$ui/frame/address';
	import { asked } from '$ui/frame/asked';
	import { arrowKeys } from '$ui/frame/move';
	import CodeMeaning from '$ui/editors/CodeMeaning.svelte';
	import NoteOn from '$ui/frame/NoteOn.svelte';

	let { data } = $props();
	const taken = $derived(data.taken);
	const most = $derived(Math.max(1, ...taken.values.map((value) => value.count)));
	const bar = $derived(scaleLinear([0, most], [0, 100]));
	const only = $derived(page.url.searchParams.get('only') ?? '');
	const pause = makePause();

	function typed(event: Event) {
		const value = (event.currentTarget as HTMLInputElement).value;
		pause.after(
			() =>
				void goto(withParameters(asked(), { only: value }), {
					replaceState: true,
					keepFocus: true,
					noScroll: true
				}),
			100
		);
	}
	const filterFor = (value: string) =>
		`/p/${data.project.slug}/tables/${taken.kind}?filter=${encodeURIComponent(/^-?\d+(\.\d+)?$/.test(value) ? `${taken.path}=${value}` : value)}`;
</script>

<svelte:head><title>{taken.title} · Values · Kettle Dial</title></svelte:head>
<div class="mx-auto max-w-5xl px-6 py-5">
	<p class="text-steam">
		<a class="follow" href="/p/{data.project.slug}/tables/{taken.kind}">{taken.kindTitle}</a> · field
		<code>{taken.path}</code>
	</p>
	<h1 class="flex items-center gap-3">
		{taken.title}{#if taken.unit}<span class="text-[15px] text-steam">{taken.unit}</span>{/if}
		<NoteOn on={{ kind: taken.kind, field: taken.path }} />
	</h1>
	{#if taken.meaning}<p class="mt-1">{taken.meaning}</p>{/if}
	<p class="mt-1 text-steam">
		{taken.different} different {either(taken.different, 'value', 'values')} in {taken.filled} of {taken.records}
		records{taken.spread ? `, from ${taken.spread.min} to ${taken.spread.max}` : ''}.
	</p>
	{#if taken.mine !== 'none'}
		<label class="mt-2 flex items-center gap-1.5"
			><input
				type="checkbox"
				class="accent-(--copper)"
				checked={taken.mine === 'counted'}
				onchange={(event) =>
					void goto(withParameters(asked(), { with: event.currentTarget.checked ? 'mine' : null }), {
						replaceState: true,
						keepFocus: true,
						noScroll: true
					})}
			/>include my mod</label
		>
	{/if}
	<input
		class="box mt-3 w-72"
		placeholder="Only values with…"
		aria-label="Only values with"
		value={only}
		oninput={typed}
	/>
	{#if taken.values.length === 0}
		<div class="plate mt-4 p-6"><p class="font-semibold">No values match.</p></div>
	{:else}
		<table class="plate mt-3 w-full border-separate text-left">
			<thead class="text-[12px] text-steam"
				><tr
					><th class="w-52 px-4 py-1 text-left font-normal">Value</th><th class="w-44 font-normal">Meaning</th
					><th class="w-56 font-normal">How often</th><th class="font-normal">Used by</th></tr
				></thead
			>
			<tbody {@attach arrowKeys}>
				{#each taken.values as value (value.value)}
					<tr class="hover:bg-wash">
						<td
							class="max-w-52 truncate px-4 py-1 font-mono {taken.spread ? 'text-right' : ''}"
							title={value.value}
						>
							<a data-move class="follow" href={filterFor(value.value)}>{value.value || 'nothing'}</a>
						</td>
						<td class="max-w-44 truncate pr-3"
							>{#if taken.coded}<CodeMeaning
									slug={data.project.slug}
									kind={taken.kind}
									field={taken.path}
									code={value.value}
									means={value.means}
								/>{:else}{value.means ?? ''}{/if}<NoteOn
								on={{ kind: taken.kind, field: taken.path, value: value.value }}
								quiet
							/></td
						>
						<td>
							<span class="flex items-center gap-2"
								><span class="h-3 rounded-r bg-rim/70" style="width: {Math.max(1, bar(value.count))}px"
								></span><span class="font-mono text-[12px]">{value.count}×</span></span
							>
						</td>
						<td class="max-w-80 truncate pr-4 text-[13px]">
							{#each value.by as who, at (who.id)}{at > 0 ? ', ' : ''}<a
									class="follow"
									href={withTicket(page.url, who.kind, who.id)}>{who.name}</a
								>{/each}{value.count > value.by.length ? ` and ${value.count - value.by.length} more` : ''}
						</td>
					</tr>
				{/each}
			</tbody>
		</table>
		{#if taken.passing > taken.values.length}<p class="mt-2 text-steam">
				The {taken.values.length} most frequent of {taken.passing} are shown.
			</p>{/if}
	{/if}
</div>
