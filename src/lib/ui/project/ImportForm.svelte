<script lang="ts">
	import { goto } from '$app/navigation';
	import { counted } from '$core/wording';
	import type { ImportState } from '$core/views';
	import { keepFolder } from '../pickers/folders';
	import { post } from '../frame/client.svelte';
	import FolderPicker from '../pickers/FolderPicker.svelte';
	import { readDropped } from './drop';
	import SourceLook from './SourceLook.svelte';
	import ImportProgress from './ImportProgress.svelte';

	/** Brings a game in: a folder of this machine or a ZIP, with progress that moves. */
	let { roots }: { roots: string[] } = $props();

	let way = $state<'folder' | 'zip'>('folder');
	let title = $state('');
	let folder = $state('');
	let mine = $state('');
	let called = $state('');
	let zip = $state<FileList>();
	let guide = $state<FileList>();
	/** Id of the import that runs. */
	let running = $state<string | null>(null);
	let layers = $state<string[]>([]);
	let fault = $state<string | null>(null);
	let sending = $state(false);

	async function ended(state: ImportState) {
		if (state.state === 'done') return goto(`/p/${state.project}/first`);
		running = null;
		fault = state.message;
	}

	/** Sends an archive. */
	async function send(name: string, body: Blob) {
		const answer = await fetch(`/api/import?title=${encodeURIComponent(name)}`, {
			method: 'POST',
			headers: { 'content-type': 'application/zip' },
			body
		});
		const said = await answer.json();
		if (!answer.ok) throw new Error(said.message);
		running = said.id;
	}

	/** Files that were read of what was dropped; null while nothing is. */
	let dropping = $state<number | null>(null);
	let over = $state(false);

	async function drop(event: DragEvent) {
		event.preventDefault();
		over = false;
		if (!event.dataTransfer || running || sending) return;
		fault = null;
		dropping = 0;
		try {
			const { name, body } = await readDropped(event.dataTransfer, (count) => (dropping = count));
			await send(title || name, body);
		} catch (error) {
			fault = (error as Error).message;
		}
		dropping = null;
	}
	const isFiles = (event: DragEvent) => event.dataTransfer?.types.includes('Files') ?? false;

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
					called,
					layers: layers.filter((path) => path.trim() !== ''),
					guide: (await guide?.[0]?.text()) ?? ''
				});
				running = id;
				keepFolder(folder);
			} else {
				const file = zip?.[0];
				if (!file) return;
				await send(title || file.name.replace(/\.zip$/i, ''), file);
			}
		} catch (error) {
			fault = (error as Error).message;
		} finally {
			sending = false;
		}
	}
</script>

<svelte:window
	ondragover={(event) => {
		if (!isFiles(event)) return;
		event.preventDefault();
		over = true;
	}}
	ondragleave={(event) => {
		if (event.relatedTarget === null) over = false;
	}}
	ondrop={(event) => isFiles(event) && void drop(event)}
/>

{#if over}
	<div
		class="pointer-events-none fixed inset-3 z-40 grid place-items-center rounded-2xl border-4 border-dashed border-brass bg-enamel/80 text-[20px] font-semibold"
	>
		Drop the folder of a game, or a ZIP of it
	</div>
{/if}
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
			<div class="col-span-2">
				<span class="mb-1 block">Folder that holds the game’s data</span>
				<FolderPicker
					bind:value={folder}
					label="Folder that holds the game’s data"
					required
					placeholder="{roots[0]}/…"
				/>
				<SourceLook path={folder} />
			</div>
			<div class="col-span-2">
				{#each layers.keys() as at (at)}
					<div class="mt-2 grid grid-cols-[9rem_1fr] items-center gap-2">
						<span class="text-steam">Layer {at + 1} on top of it</span>
						<FolderPicker
							bind:value={() => layers[at] ?? '', (next) => (layers[at] = next)}
							label="Layer {at + 1} on top of it"
							placeholder="folder or ZIP of an expansion or a mod"
						/>
					</div>
				{/each}
				<button type="button" class="press mt-2" onclick={() => (layers = [...layers, ''])}
					>Another layer: an expansion or another mod</button
				>
			</div>
			<div>
				<span class="mb-1 block">My mod’s folder, if there is one</span>
				<FolderPicker bind:value={mine} label="My mod’s folder, if there is one" />
			</div>
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
		{#if way === 'folder' && mine.trim() === ''}<label class="block"
				>Name of your mod<input
					class="box mt-1 block w-full"
					bind:value={called}
					maxlength="200"
					placeholder="can be given later"
				/></label
			>{/if}
	</fieldset>
	{#if way === 'folder'}<p class="text-[13px] text-steam">
			May be read: {#each roots as root, at (root)}{at > 0 ? ', ' : ''}<code>{root}</code>{/each}. A field
			guide beside the folder, named <code>name.guide.yaml</code>, is imported too.
		</p>{/if}
	{#if fault}<p
			class="rounded-lg border border-scald px-3 py-2 text-scald"
			role="alert"
			data-testid="import-fault"
		>
			{fault}
		</p>{/if}
	{#if dropping !== null}
		<p role="status">Reading what was dropped: {counted(dropping, 'file')}…</p>
	{:else if running}
		<ImportProgress id={running} done={(state) => void ended(state)} />
	{:else}
		<button class="press main" disabled={sending}>{sending ? 'Sending…' : 'Import'}</button>
	{/if}
</form>
