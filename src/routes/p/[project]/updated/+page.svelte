<script lang="ts">
	import { page } from '$app/state';
	import type { UpdatedPage } from '$core/views';
	import { counted } from '$core/wording';
	import { withParameters } from '$ui/frame/address';
	import Comparing from '$ui/project/Comparing.svelte';
	import UpdatedKind from '$ui/project/UpdatedKind.svelte';

	/** What a new version of the game changed, to be read before anything is carried over. */
	let { data } = $props();
	const slug = $derived(data.slug);

	let last = $state.raw<UpdatedPage | null>(null);
	let fault = $state<string | null>(null);
	$effect(() => {
		const { to, mine } = data;
		void data.version;
		fault = null;
		if (to === null) return;
		const control = new AbortController();
		fetch(`/p/${slug}/api/updated?to=${to}${mine ? '&mine=yes' : ''}`, { signal: control.signal })
			.then(async (answer) => {
				if (answer.ok) last = (await answer.json()) as UpdatedPage;
				else fault = ((await answer.json()) as { message: string }).message;
			})
			.catch((reason: unknown) => {
				if (!control.signal.aborted)
					fault =
						reason instanceof TypeError
							? 'The server is not responding. Load the page again.'
							: String(reason);
			});
		return () => control.abort();
	});
	const shown = $derived(last?.to === data.to && last?.mine === data.mine ? last : null);
	const WHAT = { new: 'new', gone: 'gone', changed: 'changed', moved: 'in another place' } as const;
</script>

<svelte:head><title>What the game changed · Kettle Dial</title></svelte:head>
<div class="mx-auto max-w-5xl px-6 py-5">
	<p class="text-steam"><a class="follow" href="/p/{slug}/setup">Set up</a></p>
	<h1>What {shown?.title ?? 'the new version'} changed</h1>
	{#if data.to === null}
		<div class="plate mt-4 p-6">
			<p class="font-semibold">There is no other version of the game here.</p>
			<p class="text-steam">
				Import the new version under <a class="follow" href="/p/{slug}/setup">Set up</a> with
				<em>Another version</em>; the one in use stays.
			</p>
		</div>
	{:else if fault}
		<div class="plate mt-4 p-6" role="alert">{fault}</div>
	{:else}
		<nav class="mt-3 flex flex-wrap items-center gap-2" aria-label="Show">
			{#each [['All of it', null], ['What concerns my mod', 'yes']] as [title, mine] (title)}
				<a
					class="press {data.mine === (mine !== null) ? 'main' : ''}"
					aria-current={data.mine === (mine !== null) ? 'page' : undefined}
					href={withParameters(page.url, { mine: mine! })}
					data-sveltekit-noscroll>{title}</a
				>
			{/each}
			<a class="follow ml-2" href="/p/{slug}/carry?to={data.to}">Carry my mod over to it</a>
		</nav>
		{#if !shown}
			<Comparing {slug} to={data.to} records={data.records} />
		{:else}
			{#if shown.kinds.length === 0 && shown.files.length === 0}
				<div class="plate mt-4 p-6">
					<p class="font-semibold">
						{data.mine ? 'Nothing that it changed concerns your mod.' : 'It changed nothing.'}
					</p>
				</div>
			{:else}
				<p class="mt-3 text-steam" role="status">
					{counted(shown.records, 'record')} in {counted(
						shown.kinds.length,
						'table'
					)}{#if data.mine}&nbsp;that your mod changes or refers to{/if},
					{counted(shown.files.length + shown.moreFiles, 'file')}.
				</p>
			{/if}
			{#each shown.kinds as kind (kind.kind)}<UpdatedKind {slug} to={shown.to} {kind} />{/each}
			{#if shown.files.length > 0}
				<section class="mt-5" aria-label="Files">
					<h2>Files</h2>
					<ul class="mt-1 columns-2 gap-6 text-[13px]">
						{#each shown.files as { path, what, from } (path + what)}
							<li>
								<code>{path}</code>
								<span class="text-steam">{WHAT[what]}{from === null ? '' : `, was ${from}`}</span>
							</li>
						{/each}
					</ul>
					{#if shown.moreFiles > 0}<p class="text-steam">
							{shown.moreFiles.toLocaleString('en')} more are not shown.
						</p>{/if}
				</section>
			{/if}
		{/if}
	{/if}
</div>
