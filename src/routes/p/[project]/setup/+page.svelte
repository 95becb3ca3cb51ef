<script lang="ts">
	import { counted, sizeOf } from '$core/wording';
	import { goto } from '$app/navigation';
	import { refresh } from '$ui/frame/refresh';
	import type { ImportState } from '$core/views';
	import { makePause } from '$ui/frame/pause';
	import { fileAddress, withParameters } from '$ui/frame/address';
	import { asked } from '$ui/frame/asked';
	import { post, say } from '$ui/frame/client.svelte';
	import FolderPicker from '$ui/pickers/FolderPicker.svelte';
	import Arrangements from '$ui/project/Arrangements.svelte';
	import ImportProgress from '$ui/project/ImportProgress.svelte';
	import LayersDialog from '$ui/project/LayersDialog.svelte';
	import LinkedFolder from '$ui/project/LinkedFolder.svelte';
	import NoteOn from '$ui/frame/NoteOn.svelte';
	import SnagMark from '$ui/frame/SnagMark.svelte';

	let { data } = $props();
	const slug = $derived(data.project.slug);
	const day = (time: string) =>
		new Date(time).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' });
	const owners: Record<string, string> = {
		game: 'read-only; never edited',
		others: 'third-party, read-only',
		me: 'all changes go here'
	};
	const WHAT = { changed: 'changed', missing: 'is missing', new: 'is new' } as const;

	/** The work that runs, and for which layer. */
	let running = $state<{ id: string; layer: string; what: string } | null>(null);
	let versionOf = $state<string | null>(null);
	let withLayers = $state(true);
	let folder = $state('');
	let added = $state('');
	let addedTitle = $state('');
	const pause = makePause();

	async function ask(body: { do: string; layer?: string } & Record<string, unknown>, said = '') {
		try {
			const { id } = await post<{ id?: string }>(`/p/${slug}/api/layers`, body);
			if (id) running = { id, layer: body.layer ?? '', what: body.do };
			else {
				await refresh();
				if (said) say(said);
			}
			versionOf = null;
		} catch (error) {
			say((error as Error).message, { bad: true });
		}
	}

	async function ended(state: ImportState) {
		const what = running?.what;
		running = null;
		await refresh();
		if (state.state !== 'done') say(state.message ?? 'It was cancelled.', { bad: state.state === 'failed' });
		else if (what === 'add') {
			added = '';
			addedTitle = '';
			say('Layer added on top');
		} else if (what === 'version') say('The other version was imported');
	}

	function typed(event: Event) {
		const value = (event.currentTarget as HTMLInputElement).value;
		pause.after(
			() =>
				void goto(withParameters(asked(), { files: value }), {
					replaceState: true,
					keepFocus: true,
					noScroll: true
				}),
			150
		);
	}
	type Layer = (typeof data.layers)[number];
	const titleOf = (id: string) => data.layers.find((layer) => layer.id === id)?.title ?? id;
	/** A change of the layers that is looked at before it is made. */
	let change = $state.raw<{ title: string; layers: string[]; apply: () => Promise<void> } | null>(null);

	const ordered = (ids: string[], title: string) => ({
		title,
		layers: ids,
		apply: () =>
			ask(
				{
					do: 'order',
					layers: ids.filter((id) => data.layers.find((one) => one.id === id)?.owner === 'others')
				},
				'The layers are in another order'
			)
	});
	/** Whether a layer can change its place with the next one of others. */
	const movable = (at: number, by: 1 | -1) => data.layers[at + by]?.owner === 'others';
	function move(at: number, by: 1 | -1): void {
		const next = [...data.layers];
		[next[at], next[at + by]] = [next[at + by]!, next[at]!];
		const [layer, other] = [data.layers[at]!, data.layers[at + by]!];
		if (!layer.on || !other.on) {
			void ask({ do: 'move', layer: layer.id, by });
			return;
		}
		change = ordered(
			next.filter(({ on }) => on).map(({ id }) => id),
			`Load ${layer.title} ${by < 0 ? 'before' : 'after'} ${other.title}`
		);
		change = { ...change, apply: () => ask({ do: 'move', layer: layer.id, by }) };
	}
	/** Switches a layer on or off, after a look. */
	function turn(layer: Layer): void {
		const on = !layer.on;
		const word = on ? 'on' : 'off';
		change = {
			title: `Switch ${layer.title} ${word}`,
			layers: data.layers.filter((one) => (one.id === layer.id ? on : one.on)).map(({ id }) => id),
			apply: () => ask({ do: 'switch', layer: layer.id, on }, `${layer.title} is switched ${word}`)
		};
	}
	/** Goes back to a named arrangement, after a look. */
	function arrange(name: string, then: string[]): void {
		change = {
			title: `Go back to “${name}”`,
			layers: then,
			apply: () => ask({ do: 'arrange', name }, `The layers are as in “${name}”`)
		};
	}
	const fileCount = $derived(data.layers.reduce((sum, layer) => sum + layer.total, 0));
</script>

<svelte:head><title>Set up · Kettle Dial</title></svelte:head>
<div class="mx-auto max-w-5xl px-6 py-6">
	<div class="flex items-center gap-3">
		<h1 class="flex-1">Set up</h1>
		<a class="press" href="/p/{slug}/first">What was understood</a>
		<a class="press" href="/p/{slug}/guide">Field guide</a>
		<a class="press" href="/?all">Import another game</a>
	</div>
	<p class="mt-1 text-steam">
		{data.guided
			? 'A field guide says what the data means.'
			: 'No field guide yet: everything was detected from the files.'}
		{#if data.version}The game says it is version {data.version}.{/if}
		Later layers win over earlier ones.
	</p>
	{#if data.layers.length > 2}
		<p class="mt-2"><a class="follow" href="/p/{slug}/clashes">What several layers change</a></p>
	{/if}
	{#each data.order.impossible as message (message)}<p class="mt-2 text-scald" role="status">
			{message}
		</p>{/each}
	{#if data.order.offered}
		<div class="plate mt-3 flex flex-wrap items-center gap-3 px-4 py-3" role="status">
			<p>
				<span class="text-saffron">{data.order.because.join('; ')}.</span>
				An order that works: {data.order.offered.map(titleOf).join(', ')}.
			</p>
			<button class="press" onclick={() => (change = ordered(data.order.offered!, 'Use this order'))}
				>Use this order</button
			>
		</div>
	{/if}
	{#if fileCount > 12}
		<input
			class="box mt-3 w-72"
			placeholder="Only files with…"
			aria-label="Only files with"
			value={data.filter}
			oninput={typed}
		/>
	{/if}
	{#each data.layers as layer, at (layer.id)}
		<section class="mt-6" aria-label={layer.title}>
			<div class="flex flex-wrap items-center gap-x-3 gap-y-1">
				<h2 class={layer.owner === 'me' ? 'text-copper' : layer.owner === 'others' ? 'text-plum' : ''}>
					{at + 1}. {layer.title}
				</h2>
				<span class="text-[13px] text-steam"
					>{layer.on ? '' : 'switched off · '}{owners[layer.owner]} · {layer.total} files, {sizeOf(
						layer.bytes
					)}{#if layer.source}&#32;· from
						<code>{layer.source}</code>{/if}</span
				>
				<span class="ml-auto flex items-center gap-1">
					{#if layer.owner === 'others'}
						<label class="mr-2 flex items-center gap-1.5 text-[13px]"
							><input
								type="checkbox"
								class="accent-(--copper)"
								checked={layer.on}
								onclick={(event) => {
									event.preventDefault();
									turn(layer);
								}}
							/>on</label
						>
						<button
							class="press slight"
							aria-label="Load {layer.title} earlier"
							disabled={!movable(at, -1)}
							onclick={() => move(at, -1)}>earlier</button
						>
						<button
							class="press slight"
							aria-label="Load {layer.title} later"
							disabled={!movable(at, 1)}
							onclick={() => move(at, 1)}>later</button
						>
						<button
							class="press slight"
							onclick={() => void ask({ do: 'remove', layer: layer.id }, `${layer.title} was removed`)}
							>Remove</button
						>
					{/if}
					{#if layer.source && layer.owner !== 'me'}
						<button
							class="press slight"
							onclick={() => (
								(versionOf = versionOf === layer.id ? null : layer.id),
								(folder = layer.source)
							)}>Another version</button
						>
						<button
							class="press"
							disabled={running !== null}
							onclick={() => void ask({ do: 'verify', layer: layer.id })}>Verify</button
						>
					{/if}
				</span>
			</div>
			{#if running?.layer === layer.id}
				<div class="plate mt-2 px-4 py-3">
					<ImportProgress id={running.id} done={(state) => void ended(state)} />
				</div>
			{/if}
			{#if versionOf === layer.id}
				<form
					class="plate mt-2 flex items-end gap-3 px-4 py-3"
					onsubmit={(event) => {
						event.preventDefault();
						void ask({ do: 'version', layer: layer.id, folder });
					}}
				>
					<div class="flex-1">
						<span class="mb-0.5 block">Folder or archive of the other version</span>
						<FolderPicker bind:value={folder} label="Folder or archive of the other version" required />
					</div>
					<button class="press main">Import as another version</button>
				</form>
			{/if}
			{#if layer.verified}
				{@const differs = layer.verified.differs}
				<div class="mt-1" data-testid="verified">
					{#if differs.length === 0}
						<p class="text-verdigris">
							All {layer.verified.files} files match the import. Checked {day(layer.verified.at)}.
						</p>
					{:else}
						<details class="text-scald" open={differs.length <= 8}>
							<summary
								>{counted(differs.length, 'file differs', 'files differ')} from the import ({day(
									layer.importedAt
								)}). Checked {day(layer.verified.at)}.</summary
							>
							<ul class="mt-1 max-h-48 overflow-auto pl-5 text-rim">
								{#each differs.slice(0, 300) as difference (difference.path)}
									<li>
										<code>{difference.path}</code>
										{WHAT[difference.what]}, since {day(difference.since)} or earlier
									</li>
								{/each}
							</ul>
						</details>
						<p class="text-steam">
							The game’s folder has changed since, by an update or by hand. Restore its files, or import the
							folder as another version.
						</p>
					{/if}
				</div>
			{/if}
			{#each layer.beside as other (other.id)}
				<p class="mt-1 flex items-center gap-3 text-[13px]" data-testid="beside">
					<span class="text-steam">Other version:</span>
					<input
						class="box h-6 w-40 px-2"
						value={other.version}
						placeholder="name of the version"
						aria-label="Name of the version"
						onchange={(event) =>
							void ask({ do: 'name', layer: other.id, version: event.currentTarget.value })}
					/>
					<span class="text-steam">imported {day(other.importedAt)} from <code>{other.source}</code></span>
					{#if layer.owner === 'game'}
						<a class="follow" href="/p/{slug}/updated?to={other.id}">What it changed</a>
						<a class="follow" href="/p/{slug}/carry?to={other.id}">Carry my mod over to it</a>
					{/if}
					<button
						class="follow"
						onclick={() => void ask({ do: 'use', layer: other.id }, 'This version is now in use')}
						>Use this one</button
					>
					<button
						class="follow text-steam"
						onclick={() => void ask({ do: 'remove', layer: other.id }, 'The version was removed')}
						>Remove</button
					>
				</p>
			{/each}
			{#if layer.owner === 'me'}
				<p class="mt-1">
					{data.project.mod ? `${data.project.mod.title} ${data.project.mod.version}` : 'It has no name yet'} ·
					<a class="follow" href="/p/{slug}/mod">Name, version and what it needs</a> ·
					<a class="follow" href="/p/{slug}/new">New file</a>
				</p>
				<LinkedFolder {slug} link={data.link} root={data.roots[0] ?? ''} />
			{/if}
			{#if layer.total === 0}
				<p class="mt-2 text-steam">
					Nothing here yet. Your first change puts a file here. <a class="follow" href="/p/{slug}/find"
						>Find something to change</a
					>
				</p>
			{:else if layer.passing === 0}
				<p class="mt-2 text-steam">No file of this layer matches.</p>
			{:else}
				<!-- svelte-ignore a11y_no_noninteractive_tabindex (a region that scrolls must be reachable by keyboard) -->
				<div
					class="plate mt-2 max-h-96 overflow-auto"
					role="region"
					aria-label="Files of {layer.title}"
					tabindex="0"
				>
					<table class="w-full text-left">
						<thead class="sticky top-0 z-10 bg-porcelain text-[12px] text-steam"
							><tr class="border-b border-line"
								><th class="px-3 py-1 font-normal">File</th><th class="font-normal">Read as</th><th
									class="text-right font-normal">Records</th
								><th class="pl-6 font-normal">Encoding, line ends</th><th class="pr-3 text-right font-normal"
									>Size</th
								></tr
							></thead
						>
						<tbody>
							{#each layer.files as file (file.path)}
								<tr class="group border-b border-line/60">
									<td class="px-3 py-1"
										><a class="follow" href={fileAddress(slug, layer.id, file.path)}
											><code>{file.path}</code></a
										>
										<NoteOn on={{ file: file.path }} quiet /></td
									>
									<td
										>{file.kind ?? ''}{#if file.problems > 0}<a
												class="follow ml-1 text-scald"
												href="/p/{slug}/snags">{file.problems} faults</a
											>{:else if !file.kind}<span class="text-steam">{file.state}</span>{/if}</td
									>
									<td class="text-right font-mono">{file.records || ''}</td>
									<td class="pl-6 text-steam"
										>{#if file.unsure}<a
												class="follow mr-1 inline-flex items-center gap-1"
												href={fileAddress(slug, layer.id, file.path)}><SnagMark severity="warns" />not sure</a
											>{/if}{file.encoding ?? ''}{file.eol && file.eol !== 'none'
											? `, ${file.eol.toUpperCase()}`
											: ''}</td
									>
									<td class="pr-3 text-right font-mono text-steam">{sizeOf(file.size)}</td>
								</tr>
							{/each}
						</tbody>
					</table>
				</div>
				{#if layer.passing > layer.files.length}<p class="mt-1 text-steam">
						The first {layer.files.length} of {layer.passing} are listed; the box above narrows them.
					</p>{/if}
			{/if}
		</section>
	{/each}
	<section class="mt-8">
		<h2 class="text-plum">Another layer on top</h2>
		{#if running?.what === 'add'}
			<div class="plate mt-2 px-4 py-3">
				<ImportProgress id={running.id} done={(state) => void ended(state)} />
			</div>
		{:else}
			<form
				class="mt-2 flex flex-wrap items-end gap-3"
				onsubmit={(event) => {
					event.preventDefault();
					void ask({ do: 'add', folder: added, title: addedTitle });
				}}
			>
				<div class="min-w-80 flex-1">
					<span class="mb-0.5 block">Folder or ZIP of an expansion or another mod</span>
					<FolderPicker
						bind:value={added}
						label="Folder or ZIP of an expansion or another mod"
						required
						placeholder="{data.roots[0] ?? ''}/…"
					/>
				</div>
				<label
					>Title<input
						class="box mt-0.5 block w-48"
						bind:value={addedTitle}
						placeholder="as the mod says"
					/></label
				>
				<button class="press">Add on top</button>
			</form>
		{/if}
	</section>
	{#if data.layers.some(({ owner }) => owner === 'others')}
		<Arrangements
			layers={data.layers}
			arrangements={data.arrangements}
			keep={(name) => ask({ do: 'keep', name }, `Saved as “${name}”`)}
			forget={(name) => ask({ do: 'forget', name }, `“${name}” was removed`)}
			{arrange}
		/>
	{/if}
	<section class="mt-8" aria-label="Project file">
		<h2>Project file</h2>
		<p class="mt-1 text-steam">
			One file with your mod and its whole history, the field guide, notes, pocket and views: to keep
			elsewhere, or to continue on another machine.
		</p>
		<p class="mt-2 flex items-center gap-4">
			<a class="press" href="/p/{slug}/api/export{withLayers ? '?layers=yes' : ''}" download>Export project</a
			>
			<label class="flex items-center gap-1.5"
				><input type="checkbox" class="accent-(--rim)" bind:checked={withLayers} />with the files of the game
				and of other mods</label
			>
		</p>
	</section>
</div>
{#if change}<LayersDialog
		{slug}
		title={change.title}
		layers={change.layers}
		apply={change.apply}
		close={() => (change = null)}
	/>{/if}
