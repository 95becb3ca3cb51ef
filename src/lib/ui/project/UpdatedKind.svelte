<script lang="ts">
	import type { UpdatedPage } from '$core/views';

	/** What a new version changed in one table: how many records, which fields, how far values went, and each record. */
	let { slug, to, kind }: { slug: string; to: string; kind: UpdatedPage['kinds'][number] } = $props();

	const WORDS = {
		new: 'new',
		gone: 'gone',
		changed: 'changed',
		renamed: 'renamed',
		moved: 'in another place'
	};
	const counts = $derived(
		(['changed', 'new', 'gone', 'renamed', 'moved'] as const)
			.filter((what) => kind.counts[what] > 0)
			.map((what) => `${kind.counts[what].toLocaleString('en')} ${WORDS[what]}`)
			.join(', ')
	);
	const percent = (share: number) =>
		`${share > 0 ? '+' : share < 0 ? '−' : '±'}${Math.abs(Math.round(share * 100))} %`;
	const said = (value: string | null) => (value === null || value === '' ? 'nothing' : value);
	const fields = $derived(
		kind.fields.map(({ what, path, from, sure }) =>
			from !== null
				? `${from} is ${what === 'split' ? 'split into' : 'called'} ${path} now${sure < 1 ? ` (${Math.round(sure * 100)} % sure)` : ''}`
				: `${path} is ${what}`
		)
	);
	const isThere = (what: string) => what !== 'gone';
	const compared = (id: string) =>
		`/p/${slug}/compare?with=${encodeURIComponent(`${kind.kind}/${id}@${to}`)}&with=${encodeURIComponent(`${kind.kind}/${id}`)}`;
</script>

<section class="mt-5" aria-label={kind.title}>
	<h2 class="flex flex-wrap items-baseline gap-x-3">
		{kind.title}<span class="text-[13px] font-normal text-steam"
			>{kind.whole === 'gone'
				? 'all gone'
				: kind.whole === 'new'
					? 'a new table'
					: counts || 'only fields'}</span
		>
	</h2>
	{#if fields.length > 0}<p class="text-[13px]">Fields: {fields.join('; ')}.</p>{/if}
	{#if kind.values.length > 0 && kind.records.length > 5}
		<ul class="mt-1 flex flex-wrap gap-x-5 gap-y-0.5 text-[13px]">
			{#each kind.values as { title, count, middle, range } (title)}
				<li>
					{title}
					<span class="text-steam">{count.toLocaleString('en')} ×</span>
					{#if middle !== null && range}<span class="font-mono">{percent(middle)}</span
						>{#if range[0] !== range[1]}<span class="text-steam">
								({percent(range[0])} to {percent(range[1])})</span
							>{/if}{/if}
				</li>
			{/each}
		</ul>
	{/if}
	{#if kind.records.length > 0}
		<details class="mt-1" open={kind.records.length <= 12}>
			<summary class="cursor-pointer text-[13px] text-steam">Records</summary>
			<table class="mt-1 w-full text-left text-[13px]">
				<tbody>
					{#each kind.records as { id, name, what, was, sure, values, more } (id + what)}
						<tr class="border-t border-line align-top">
							<th class="w-64 py-1 pr-3 font-normal" scope="row"
								>{#if isThere(what)}<a class="follow" href={compared(id)}>{name}</a>{:else}{name}{/if}
								{#if name !== id}<code class="text-steam">{id}</code>{/if}</th
							>
							<td class="w-44 py-1 pr-3 text-steam"
								>{WORDS[what]}{was === null ? '' : `, was ${was}`}{sure < 1
									? `, ${Math.round(sure * 100)} % sure`
									: ''}</td
							>
							<td class="py-1"
								>{#each values as { title, old, new: fresh } (title)}<span class="mr-4 inline-block"
										>{title}
										<span class="font-mono"><span class="text-steam">{said(old)}</span> → {said(fresh)}</span
										></span
									>{/each}{#if more > 0}<span class="text-steam">and {more} more</span>{/if}</td
							>
						</tr>
					{/each}
				</tbody>
			</table>
			{#if kind.more > 0}<p class="text-[13px] text-steam">
					{kind.more.toLocaleString('en')} more are not shown.
				</p>{/if}
		</details>
	{/if}
</section>
