<script lang="ts">
	import { goto } from '$app/navigation';
	import { post, say } from '../frame/client.svelte';

	/** Project files: one from this computer, or one that the server kept by itself, becomes a new project. */
	let { kept, choose = true }: { kept: { slug: string; name: string; at: string }[]; choose?: boolean } =
		$props();

	let busy = $state(false);
	let fault = $state('');
	const when = (time: string) =>
		new Date(time).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' });

	interface Imported {
		slug: string;
		missing: number;
	}

	async function bring(work: () => Promise<Imported>) {
		busy = true;
		fault = '';
		try {
			const { slug, missing } = await work();
			await goto(`/p/${slug}/setup`);
			say(
				missing === 0
					? 'Imported the project'
					: `Imported the project. ${missing} files of other layers are not on this machine: import them as another version of their layer`
			);
		} catch (error) {
			fault = (error as Error).message;
		}
		busy = false;
	}

	async function send(file: File): Promise<Imported> {
		const answer = await fetch('/api/import/project', {
			method: 'POST',
			headers: { 'content-type': 'application/zip' },
			body: file
		});
		const said = (await answer.json()) as Imported & { message?: string };
		if (!answer.ok) throw new Error(said.message);
		return said;
	}
</script>

{#if choose}
	<label class="block"
		>Project file<input
			type="file"
			accept=".zip"
			class="mt-1 block w-full"
			disabled={busy}
			onchange={(event) => {
				const file = event.currentTarget.files?.[0];
				if (file) void bring(() => send(file));
			}}
		/></label
	>
{/if}
{#if kept.length > 0}
	<ul class="mt-3" data-testid="kept">
		{#each kept as file (file.slug + file.name)}
			<li class="flex items-baseline gap-3 border-b border-line/60 py-1">
				<span class="font-semibold">{file.slug}</span>
				<span class="text-steam">{when(file.at)}</span>
				<button
					class="follow ml-auto"
					disabled={busy}
					onclick={() =>
						void bring(() => post<Imported>('/api/import/project', { slug: file.slug, name: file.name }))}
					>Import as a new project</button
				>
			</li>
		{/each}
	</ul>
{/if}
{#if busy}<p class="mt-2 text-steam" role="status">Importing the project…</p>{/if}
{#if fault}<p class="mt-2 text-scald" role="alert" data-testid="project-file-fault">{fault}</p>{/if}
