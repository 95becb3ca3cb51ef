<script lang="ts">
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { withParameters } from '$ui/address';
	import { arrowKeys } from '$ui/move';

	let { data } = $props();
	let box = $state<HTMLInputElement>();
	let timer: ReturnType<typeof setTimeout> | undefined;

	const selected = $derived(page.url.searchParams.get('ticket'));

	const address = (changes: Record<string, string | null>) => withParameters(page.url, changes);

	function typed() {
		clearTimeout(timer);
		timer = setTimeout(
			() =>
				void goto(address({ q: box?.value ?? '', kind: null }), {
					replaceState: true,
					keepFocus: true,
					noScroll: true
				}),
			120
		);
	}

	/** The matched text cut around the place that matched. */
	const around = (text: string) => (text.length > 90 ? `${text.slice(0, 90)}…` : text);

	const groups = $derived(
		data.narrow
			.map((entry) => ({ ...entry, hits: data.hits.filter((hit) => hit.kind === entry.kind) }))
			.filter((group) => group.hits.length > 0)
	);
</script>

<svelte:head><title>Find · Kettle Dial</title></svelte:head>

<div class="mx-auto max-w-4xl px-6 py-6">
	<h1>Find</h1>
	<label class="mt-2 block">
		<span class="sr-only">Search by name, id, value, remark or file</span>
		<input
			bind:this={box}
			value={data.query}
			oninput={typed}
			class="box h-11 w-full px-4 text-[16px]"
			placeholder="A name from the game’s screen, an id, a number…"
			data-testid="find"
		/>
	</label>

	{#if data.query === ''}
		{#if data.tries.length > 0}
			<h2 class="mt-8">Three things to try</h2>
			<ol class="mt-3 space-y-3">
				{#each data.tries as attempt, at (attempt.title)}
					<li class="plate flex items-center gap-5 px-5 py-4">
						<span class="font-title text-[24px] text-brass" aria-hidden="true">{at + 1}</span>
						<div class="flex-1">
							<p class="font-semibold">{attempt.title}</p>
							<p class="text-steam">{attempt.about}</p>
						</div>
						<a class="press" href="/p/{data.project.slug}/{attempt.href}">{attempt.button}</a>
					</li>
				{/each}
			</ol>
		{/if}
		<h2 class="mt-8">What is in here</h2>
		<div class="mt-3 grid grid-cols-3 gap-x-6">
			{#each data.kinds as kind (kind.kind)}
				<a
					class="flex justify-between border-b border-line py-1.5 hover:bg-wash"
					href="/p/{data.project.slug}/tables/{kind.kind}"
					><span class="font-semibold">{kind.title}</span><span class="text-steam"
						>{kind.records}{#if kind.mine > 0}<span class="text-copper">, {kind.mine} mine</span>{/if}</span
					></a
				>
			{/each}
		</div>
	{:else if data.hits.length === 0}
		<div class="plate mt-6 p-6">
			<p class="font-semibold">Nothing is called “{data.query}”.</p>
			<p class="mt-1 text-steam">
				Try a part of the name, another language, or the number alone. Names, ids, values, remarks and file
				names were searched.
			</p>
			<p class="mt-3"><a class="press" href={address({ q: null, kind: null })}>Show what is in here</a></p>
		</div>
	{:else}
		<p class="mt-3 flex flex-wrap items-center gap-2 text-steam">
			<span role="status">{data.total} found in {data.milliseconds.toFixed(0)} ms</span>
			{#if data.narrow.length > 1 || data.kind}
				<a
					class="rounded-full border px-2.5 py-0.5 {data.kind
						? 'border-line'
						: 'border-rim font-semibold text-rim'}"
					href={address({ kind: null })}>everything</a
				>
				{#each data.narrow as entry (entry.kind)}
					<a
						class="rounded-full border px-2.5 py-0.5 {data.kind === entry.kind
							? 'border-rim font-semibold text-rim'
							: 'border-line'}"
						href={address({ kind: entry.kind })}>{entry.title} {entry.count}</a
					>
				{/each}
			{/if}
		</p>
		<div role="group" aria-label="Hits" {@attach arrowKeys}>
			{#each groups as group (group.kind)}
				<h2 class="mt-5 mb-1">{group.title}</h2>
				<ul class="plate divide-y divide-line">
					{#each group.hits as hit (hit.record)}
						<li>
							<a
								data-move
								href={address({ ticket: `${hit.kind}/${hit.record}` })}
								class="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)_auto] items-baseline gap-4 px-4 py-2 hover:bg-wash {selected ===
								`${hit.kind}/${hit.record}`
									? 'bg-wash'
									: ''}"
							>
								<span class="truncate"
									><span class="font-semibold">{hit.name ?? hit.record}</span>
									{#if hit.name}<code class="text-[12px] text-steam">{hit.record}</code>{/if}</span
								>
								<span class="truncate text-steam"
									>{hit.reason}: <span class="text-rim">{around(hit.matched)}</span></span
								>
								<span class="text-right text-[12px] text-steam"
									><span class={data.layers[hit.layer] === 'My mod' ? 'text-copper' : ''}
										>{data.layers[hit.layer]}</span
									>
									· {hit.file.split('/').at(-1)}:{hit.line}{hit.uses > 0 ? ` · used ${hit.uses}×` : ''}</span
								>
							</a>
						</li>
					{/each}
				</ul>
			{/each}
		</div>
		{#if data.total > data.hits.length}<p class="mt-3 text-steam">
				The first {data.hits.length} are shown. Another word narrows them.
			</p>{/if}
	{/if}
</div>
