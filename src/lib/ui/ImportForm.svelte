<script lang="ts">
	import { goto } from '$app/navigation';
	import type { ImportState } from '$core/views';
	import { post } from './client.svelte';

	/** Brings a game in: a folder of this machine or a ZIP, with progress that moves. */
	let { roots }: { roots: string[] } = $props();

	let way = $state<'folder' | 'zip'>('folder');
	let title = $state('');
	let folder = $state('');
	let mine = $state('');
	let zip = $state<FileList>();
	let guide = $state<FileList>();
	let running = $state<ImportState | null>(null);
	let fault = $state<string | null>(null);
	let sending = $state(false);

	const megabytes = (bytes: number) => (bytes / 2 ** 20).toFixed(1);

	async function follow(id: string) {
		for (;;) {
			const answer = await fetch(`/imports/${id}`).catch(() => null);
			if (answer?.ok) running = (await answer.json()) as ImportState;
			if (running && running.state !== 'waiting' && running.state !== 'working') break;
			await new Promise((done) => setTimeout(done, 250));
		}
		if (running.state === 'done') await goto(`/p/${running.project}/setup`);
		else fault = running.message;
		running = null;
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
					guide: (await guide?.[0]?.text()) ?? ''
				});
				await follow(id);
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
				await follow(said.id);
			}
		} catch (error) {
			fault = (error as Error).message;
		} finally {
			sending = false;
		}
	}
</script>

<form class="plate mt-4 space-y-4 p-5" onsubmit={submit} aria-label="Bring a game in">
	<fieldset class="flex gap-5" disabled={sending}>
		<legend class="sr-only">From where</legend>
		<label class="flex items-center gap-2"
			><input type="radio" bind:group={way} value="folder" class="accent-(--rim)" />A folder of this machine</label
		>
		<label class="flex items-center gap-2"
			><input type="radio" bind:group={way} value="zip" class="accent-(--rim)" />A ZIP archive</label
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
				placeholder="as the folder is called"
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
		<div role="status">
			<progress
				class="w-full accent-(--brass)"
				max={Math.max(1, running.bytes_total)}
				value={running.bytes_done}
				aria-label="Progress of the import"
			></progress>
			<p class="flex justify-between gap-4 text-steam">
				<span class="truncate">{running.reading ?? 'Getting ready'}</span><span class="shrink-0"
					>{running.files_done} of {running.files_total} files, {megabytes(running.bytes_done)} of {megabytes(
						running.bytes_total
					)} MB</span
				>
			</p>
			<button
				type="button"
				class="press mt-1"
				onclick={() => void fetch(`/imports/${running?.id}`, { method: 'DELETE' })}>Cancel</button
			>
		</div>
	{:else}
		<button class="press main" disabled={sending}>{sending ? 'Sending…' : 'Bring it in'}</button>
	{/if}
</form>
