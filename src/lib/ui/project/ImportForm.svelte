<script lang="ts">
	import { goto } from '$app/navigation';
	import type { ImportState } from '$core/views';
	import { post } from '../frame/client.svelte';
	import ImportProgress from './ImportProgress.svelte';

	/** Brings a game in: a folder of this machine or a ZIP, with progress that moves. */
	let { roots }: { roots: string[] } = $props();

	let way = $state<'folder' | 'zip'>('folder');
	let title = $state('');
	let folder = $state('');
	let mine = $state('');
	let zip = $state<FileList>();
	let guide = $state<FileList>();
	/** Id of the import that runs. */
	let running = $state<string | null>(null);
	let layers = $state<string[]>([]);
	let fault = $state<string | null>(null);
	let sending = $state(false);

	async function ended(state: ImportState) {
		if (state.state === 'done') return goto(`/p/${state.project}/setup`);
		running = null;
		fault = state.message;
	}

	async function submit(event: SubmitEvent) {
		event.preventDefault();
		fault = null;
		sending = true;
		try {
			if (way === 'folder') {
				const { id } = await post<{ id: string }>('/api/import', {
					title,
					folder,
					mine,
					layers: layers.filter((path) => path.trim() !== ''),
					guide: (await guide?.[0]?.text()) ?? ''
				});
				running = id;
			} else {
				const file = zip?.[0];
				if (!file) return;
				const name = title || file.name.replace(/\.zip$/i, '');
				const answer = await fetch(`/api/import?title=${encodeURIComponent(name)}`, {
					method: 'POST',
					headers: { 'content-type': 'application/zip' },
					body: file
				});
				const said = await answer.json();
				if (!answer.ok) throw new Error(said.message);
				running = said.id;
			}
		} catch (error) {
			fault = (error as Error).message;
		} finally {
			sending = false;
		}
	}
</script>

<form class="plate mt-4 space-y-4 p-5" onsubmit={submit} aria-label="Import a game">
	<fieldset class="flex gap-5" disabled={sending}>
		<legend class="sr-only">From where</legend>
		<label class="flex items-center gap-2"
			><input type="radio" bind:group={way} value="folder" class="accent-(--rim)" />A folder on this machine</label
		>
		<label class="flex items-center gap-2"
			><input type="radio" bind:group={way} value="zip" class="accent-(--rim)" />A ZIP file</label
		>
	</fieldset>
	<fieldset class="grid grid-cols-2 gap-4" disabled={sending}>
		<legend class="sr-only">What</legend>
		{#if way === 'folder'}
			<label class="col-span-2 block"
				>Folder that holds the game’s data<input
					class="box mt-1 block w-full font-mono"
					bind:value={folder}
					required
					placeholder="{roots[0]}/…"
				/></label
			>
			<div class="col-span-2">
				{#each layers.keys() as at (at)}
					<label class="mt-2 flex items-center gap-2"
						><span class="w-36 shrink-0 text-steam">Layer {at + 1} on top of it</span><input
							class="box w-full font-mono"
							bind:value={layers[at]}
							placeholder="folder or ZIP of an expansion or a mod"
						/></label
					>
				{/each}
				<button type="button" class="press mt-2" onclick={() => (layers = [...layers, ''])}
					>Another layer: an expansion or another mod</button
				>
			</div>
			<label class="block"
				>My mod’s folder, if there is one<input
					class="box mt-1 block w-full font-mono"
					bind:value={mine}
				/></label
			>
			<label class="block"
				>Field guide, if there is one<input
					type="file"
					accept=".yaml,.yml"
					class="mt-1 block w-full"
					bind:files={guide}
				/></label
			>
		{:else}
			<label class="block"
				>Archive<input type="file" accept=".zip" class="mt-1 block w-full" bind:files={zip} required /></label
			>
		{/if}
		<label class="block"
			>Name of the game<input
				class="box mt-1 block w-full"
				bind:value={title}
				maxlength="80"
				placeholder="same as the folder"
			/></label
		>
	</fieldset>
	{#if way === 'folder'}<p class="text-[13px] text-steam">
			May be read: {#each roots as root, at (root)}{at > 0 ? ', ' : ''}<code>{root}</code>{/each}. A field
			guide that lies beside the folder as <code>name.guide.yaml</code> is taken along.
		</p>{/if}
	{#if fault}<p
			class="rounded-lg border border-scald px-3 py-2 text-scald"
			role="alert"
			data-testid="import-fault"
		>
			{fault}
		</p>{/if}
	{#if running}
		<ImportProgress id={running} done={(state) => void ended(state)} />
	{:else}
		<button class="press main" disabled={sending}>{sending ? 'Sending…' : 'Import'}</button>
	{/if}
</form>
