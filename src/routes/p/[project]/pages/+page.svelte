<script lang="ts">
	import { counted } from '$core/wording';
	import type { Thrown } from '$core/scripts';
	import { fileAddress } from '$ui/frame/address';
	import { applyIntention, post } from '$ui/frame/client.svelte';
	import PageCard from '$ui/text/PageCard.svelte';

	/** Pages of text that scripts show, in the order of the game. */
	let { data } = $props();

	type Side = { thrown: Thrown } | { fault: string };
	let busy = $state(false);
	let tried = $state.raw<{ mine: Side } | null>(null);
	let fault = $state<string | null>(null);

	/** Loads the scripts without the game, and gathers the calls that show pages. */
	async function load(): Promise<void> {
		busy = true;
		fault = null;
		try {
			tried = await post<{ mine: Side }>(`/p/${data.slug}/api/try`, {
				name: null,
				args: [],
				returns: {},
				seed: 1,
				times: 1
			});
		} catch (error) {
			fault = (error as Error).message;
		}
		busy = false;
	}
	const first = $derived(tried && 'thrown' in tried.mine ? tried.mine.thrown.first : null);
	const called = $derived(
		first?.calls.filter((call) => data.calls.some((name) => call.startsWith(`${name}(`))) ?? []
	);
	const colour = (owner: string) => (owner === 'me' ? 'text-copper' : owner === 'others' ? 'text-plum' : '');
</script>

<svelte:head><title>Pages of text · Kettle Dial</title></svelte:head>
<div class="mx-auto max-w-4xl px-6 py-5">
	<p class="text-steam"><a class="follow" href="/p/{data.slug}/scripts">Scripts</a></p>
	<h1>Pages of text</h1>
	{#if data.calls.length === 0}
		<div class="plate mt-4 p-6">
			<p class="font-semibold">The field guide names no call that shows pages of text.</p>
			<p class="text-steam">
				Under <code>pages</code> it can say which call does, and which of its arguments are the title and the text.
			</p>
		</div>
	{:else if data.scripts.length === 0}
		<p class="mt-2 text-steam">
			No script shows a page by {data.calls.map((call) => `${call}(…)`).join(' or ')}.
		</p>
	{:else}
		<p class="mt-1 text-steam">As players see them. A change goes into your version of the script.</p>
		{#each data.scripts as script (script.path)}
			<section class="mt-5" aria-label={script.path}>
				<h2 class="flex flex-wrap items-baseline gap-3">
					<a
						class="follow font-mono {colour(script.layer.owner)}"
						href={fileAddress(data.slug, script.layer.id, script.path)}>{script.path}</a
					>
					<span class="text-[13px] font-normal text-steam"
						>{script.layer.title}, {counted(script.pages.length, 'page')}{script.reversed
							? '; the last in the file is shown first'
							: ''}</span
					>
				</h2>
				<p class="text-[13px] {script.loadedBy.length === 0 ? 'text-saffron' : 'text-steam'}">
					{#if script.loadedBy.length === 0}Nothing loads this script, so its pages may never be shown.
						{#if script.layer.owner === 'me'}<button
								class="press h-6 text-[12px]"
								onclick={() => void applyIntention(data.slug, { do: 'load', path: script.path })}
								>Load it</button
							>{/if}
					{:else}Loaded by {#each script.loadedBy as one, nth (one.path)}{nth > 0 ? ' → ' : ''}<a
								class="follow"
								href={fileAddress(data.slug, one.layer, one.path, one.line)}>{one.path}:{one.line}</a
							>{/each}{/if}
				</p>
				<ol class="mt-2 space-y-2">
					{#each script.pages as page, nth (`${page.nth} ${page.text}`)}
						<PageCard
							{page}
							path={script.path}
							shown={nth + 1}
							count={script.pages.length}
							change={(intention) => applyIntention(data.slug, intention)}
						/>
					{/each}
				</ol>
			</section>
		{/each}
		<section class="mt-6" aria-labelledby="try">
			<h2 id="try">Try it</h2>
			<p class="text-steam">
				Loads all scripts in a machine of their own, and lists the pages that they show, in the order of their
				calls.
			</p>
			<button class="press mt-2" disabled={busy} onclick={() => void load()}
				>{busy ? 'Running…' : 'Load the scripts'}</button
			>
			{#if fault}<p class="mt-2 text-scald" role="alert">{fault}</p>{/if}
			{#if tried}
				<div class="plate mt-3 p-4" role="status">
					{#if 'fault' in tried.mine}<p class="text-scald">{tried.mine.fault}</p>
					{:else}
						{#each first!.unloaded as one (one.path)}<p class="text-scald">
								{one.path} could not be loaded: {one.fault}
							</p>{/each}
						<p>{counted(called.length, 'page')} shown:</p>
						<ol class="mt-1 list-inside list-decimal font-mono text-[12px]">
							{#each called as call, nth (nth)}<li class="break-words">{call}</li>{/each}
						</ol>
					{/if}
				</div>
			{/if}
		</section>
	{/if}
</div>
