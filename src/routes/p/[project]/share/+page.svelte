<script lang="ts">
	import type { SharePage } from '$core/views';
	import { post, say } from '$ui/frame/client.svelte';
	import { refresh } from '$ui/frame/refresh';

	import { changeGuide } from '$ui/guide/change';

	const PARTS = [
		'title',
		'version',
		'game',
		'description',
		'needs',
		'options',
		'takes',
		'install',
		'pictures',
		'changes'
	];

	/** My mod as it is given away: what goes along, as it would be. */
	let { data } = $props();
	const slug = $derived(data.slug);

	let page = $state.raw<SharePage | null>(null);
	let fault = $state<string | null>(null);
	$effect(() => {
		void data.version;
		const control = new AbortController();
		fetch(`/p/${slug}/api/share`, { signal: control.signal })
			.then(async (answer) => {
				if (answer.ok) [page, fault] = [(await answer.json()) as SharePage, null];
				else fault = ((await answer.json()) as { message: string }).message;
			})
			.catch(() => {
				if (!control.signal.aborted) fault = 'The server is not responding. Load the page again.';
			});
		return () => control.abort();
	});

	let readme = $state(true);
	let changes = $state(true);
	let withGuide = $state(false);
	let pictures = $state(false);
	/** The template as it is being written; null while it is not. */
	let template = $state<string | null>(null);
	let busy = $state(false);

	async function saveTemplate(next: string | null): Promise<void> {
		busy = true;
		if (await changeGuide(slug, { do: 'share', readme: next })) template = null;
		busy = false;
	}
	let shown = $state<'readMe' | 'changes'>('readMe');
	const query = $derived(
		[
			readme ? 'with=readme' : '',
			changes ? 'with=changes' : '',
			pictures ? 'with=pictures' : '',
			withGuide ? 'with=guide' : ''
		]
			.filter((one) => one !== '')
			.join('&')
	);

	async function countUp(): Promise<void> {
		try {
			const { said } = await post<{ said: string }>(`/p/${slug}/api/mod`, {
				...page!.identity,
				version: page!.next
			});
			say(said);
		} catch (error) {
			say((error as Error).message, { bad: true });
		}
		await refresh();
	}
</script>

<svelte:head><title>Share · Kettle Dial</title></svelte:head>
<div class="mx-auto max-w-4xl px-6 py-6">
	<p class="text-steam"><a class="follow" href="/p/{slug}/pack">Pack</a></p>
	<h1>Share</h1>
	{#if fault}
		<p class="plate mt-4 p-5 text-scald" role="alert">{fault}</p>
	{:else if !page}
		<p class="mt-4 text-steam">Comparing the game with your mod and without it…</p>
	{:else if page.files === 0}
		<div class="plate mt-4 p-6">
			<p class="font-semibold">Your mod is empty: there is nothing to share yet.</p>
			<p class="mt-3"><a class="press main" href="/p/{slug}/find">Find something to change</a></p>
		</div>
	{:else}
		<p class="mt-1 flex flex-wrap items-center gap-x-3">
			<span
				><span class="font-semibold text-copper">{page.identity.title}</span>
				{page.identity.version}</span
			>
			{#if page.next}<button class="press slight" onclick={() => void countUp()}>Make it {page.next}</button
				>{/if}
			<a class="follow" href="/p/{slug}/mod">Name, version and what it needs</a>
		</p>
		<section class="plate mt-4 p-5" aria-label="For players">
			<h2>For players</h2>
			<div class="mt-1 flex flex-wrap gap-x-5">
				<label class="flex items-center gap-2"
					><input type="checkbox" class="accent-(--rim)" bind:checked={readme} />with a read-me</label
				>
				<label class="flex items-center gap-2"
					><input type="checkbox" class="accent-(--rim)" bind:checked={changes} />with the list of changes</label
				>
				{#if page.pictures.length > 0}<label class="flex items-center gap-2"
						><input type="checkbox" class="accent-(--rim)" bind:checked={pictures} />with pictures of the
						tables</label
					>{/if}
				<label class="flex items-center gap-2"
					><input type="checkbox" class="accent-(--rim)" bind:checked={withGuide} />with the field guide</label
				>
			</div>
			{#if pictures}<div class="mt-3 flex flex-wrap gap-3">
					{#each page.pictures as { path, title, svg } (path)}<figure class="max-w-full">
							<img
								class="max-h-72 max-w-full rounded border border-line"
								src="data:image/svg+xml,{encodeURIComponent(svg)}"
								alt={title}
							/>
							<figcaption class="text-[12px] text-steam"><code>{path}</code></figcaption>
						</figure>{/each}
				</div>{/if}
			{#each page.own as path (path)}<p class="text-[13px] text-steam">
					Your mod has a <code>{path}</code> of its own; that one counts.
				</p>{/each}
			<p class="mt-3 flex flex-wrap gap-3">
				<a class="press main" href="/p/{slug}/api/pack{query ? `?${query}` : ''}" download>Download as ZIP</a>
				<a class="press" href="/p/{slug}/api/patch" download
					>Download as a small patch, for use beside other mods</a
				>
			</p>
		</section>
		<section class="plate mt-3 p-5" aria-label="For modders who use Kettle Dial">
			<h2>For modders who use Kettle Dial</h2>
			<p class="text-steam">
				The project with its ledger, field guide, options and notes. Whoever imports it sees every step with
				its title and can undo it.
			</p>
			<p class="mt-3 flex flex-wrap gap-3">
				<a class="press" href="/p/{slug}/api/export" download>Download the project</a>
				<a class="press" href="/p/{slug}/api/export?layers=yes" download>With the game’s files</a>
			</p>
		</section>
		<div class="mt-5 flex items-baseline gap-2" role="group" aria-label="Show">
			{#each [['readMe', 'Read-me'], ['changes', 'List of changes']] as const as [what, title] (what)}
				<button
					class="press {shown === what ? 'main' : ''}"
					aria-pressed={shown === what}
					onclick={() => (shown = what)}>{title}</button
				>
			{/each}
			{#if shown === 'readMe' && template === null}<button
					class="press slight"
					onclick={() => (template = page!.template)}>Change the template</button
				>{/if}
		</div>
		{#if shown === 'readMe' && template !== null}
			<form
				class="plate mt-2 p-4"
				aria-label="Template of the read-me"
				onsubmit={(event) => {
					event.preventDefault();
					void saveTemplate(template);
				}}
			>
				<textarea
					class="box w-full font-mono text-[13px]"
					rows="14"
					required
					aria-label="Template"
					bind:value={template}></textarea>
				<p class="mt-1 text-[13px] text-steam">
					Markdown. {#each PARTS as part (part)}<code class="mr-1.5">{`{${part}}`}</code>{/each} stand for what
					the project says; parts of which there is nothing leave no gap.
				</p>
				<p class="mt-2 flex gap-3">
					<button class="press main" disabled={busy}>Save the template</button>
					<button type="button" class="press" onclick={() => (template = null)}>Cancel</button>
					{#if page.isOwnTemplate}<button
							type="button"
							class="press"
							disabled={busy}
							onclick={() => void saveTemplate(null)}>Use the usual one</button
						>{/if}
				</p>
			</form>
		{/if}
		<pre
			class="plate mt-2 p-4 font-mono text-[13px] whitespace-pre-wrap"
			aria-label={shown === 'readMe' ? 'The read-me' : 'The list of changes'}
			data-testid="text">{page[shown]}</pre>
	{/if}
</div>
