<script lang="ts">
	import { goto } from '$app/navigation';
	import { untrack } from 'svelte';

	let { data } = $props();

	let path = $state(untrack(() => data.path));
	let model = $state(untrack(() => data.model !== null));
	const folder = $derived(path.slice(0, path.lastIndexOf('/') + 1));
	const name = $derived(path.slice(folder.length));
	/** As the files of the folder are written, else those of the nearest folder above it. */
	const written = $derived(
		data.folders.filter((one) => folder.startsWith(one.path)).sort((a, b) => b.path.length - a.path.length)[0]
			?.written ?? {
			encoding: 'utf-8',
			bom: false,
			eol: '\n',
			ending: ''
		}
	);
	const ends = $derived(written.eol === '\n' ? 'lf' : written.eol === '\r' ? 'cr' : 'crlf');

	function open(event: SubmitEvent): void {
		event.preventDefault();
		const bom = written.bom ? '&bom' : '';
		const from = model && data.model ? `&model=${encodeURIComponent(data.model)}` : '';
		const asked = `new&encoding=${encodeURIComponent(written.encoding)}&eol=${ends}${bom}${from}`;
		void goto(`/p/${data.slug}/edit/${path.split('/').map(encodeURIComponent).join('/')}?${asked}`);
	}
</script>

<svelte:head><title>New file · Kettle Dial</title></svelte:head>
<div class="mx-auto max-w-2xl px-6 py-5">
	<h1>New file</h1>
	<p class="mt-1 text-steam">It goes into your mod. Nothing is written before you save it.</p>
	<form class="plate mt-4 space-y-4 p-5" onsubmit={open} aria-label="New file">
		<label class="block"
			><span class="block font-semibold">Folder and name</span>
			<input
				class="box w-full font-mono"
				list="folders"
				bind:value={path}
				required
				pattern=".*[^\/]"
				placeholder="scripts/new.lua"
				aria-describedby="path-help"
			/>
			<span id="path-help" class="text-[12px] text-steam"
				>Folders of the game are offered. {written.ending
					? `Most files there end in ${written.ending}.`
					: ''}</span
			></label
		>
		<datalist id="folders">
			{#each data.folders as one (one.path)}<option value={one.path}></option>{/each}
		</datalist>
		{#if data.model}
			<label class="flex items-center gap-2"
				><input type="checkbox" class="accent-(--copper)" bind:checked={model} />Begin with the text of
				<code>{data.model}</code></label
			>
		{/if}
		<p class="text-steam">
			Written like its neighbours: {written.encoding}{written.bom ? ' with byte-order mark' : ''}, {ends.toUpperCase()}.
		</p>
		<button class="press main" disabled={name === ''}>Write it</button>
	</form>
</div>
