<script lang="ts">
	import { fileAddress } from '$ui/frame/address';
	import type { ProgramView } from '$core/views';
	import { post, say } from '$ui/frame/client.svelte';
	import { refresh } from '$ui/frame/refresh';
	import SpoilMarks from '$ui/frame/SpoilMarks.svelte';

	let { data } = $props();
	const whys: Record<string, string> = {
		new: 'New',
		overrides: 'Overrides',
		patch: 'Patches',
		derived: 'Derived'
	};
	let busy = $state(false);
	async function agree({ file, title }: ProgramView): Promise<void> {
		busy = true;
		try {
			await post(`/p/${data.project.slug}/api/pack`, { do: 'agree', file });
			await refresh();
			if (data.programs.some((one) => one.file === file && one.state === 'made')) say(`Made: ${title}`);
		} catch (error) {
			say((error as Error).message, { bad: true });
		}
		busy = false;
	}
	const failed = $derived(data.programs.some(({ state }) => state === 'failed'));
	const total = $derived(data.files.reduce((sum, file) => sum + file.bytes, 0));
</script>

<svelte:head><title>Pack · Kettle Dial</title></svelte:head>
<div class="mx-auto max-w-4xl px-6 py-6">
	<h1>Pack</h1>
	<p class="mt-1">
		<span class="font-semibold text-copper">{data.identity.title}</span>
		{data.identity.version}, for game version {data.identity.gameVersion || 'unknown'}.
		<a class="follow" href="/p/{data.project.slug}/mod">Change name and version</a> ·
		<a class="follow" href="/p/{data.project.slug}/options">Optional parts</a>
	</p>
	<p class="text-steam">Exactly these files are written, and no others.</p>
	{#if data.counts.blocks > 0}<p class="mt-3 rounded-lg border border-scald px-3 py-2">
			{data.counts.blocks} snags keep the game from loading this cleanly.
			<a class="follow font-semibold" href="/p/{data.project.slug}/snags">Fix them first</a>
		</p>{/if}
	<SpoilMarks spoiled={data.spoiled} />
	{#each data.programs as program (program.file)}
		{#if program.state !== 'made'}
			<section class="plate mt-3 px-4 py-3" aria-label={program.title}>
				{#if program.state === 'failed'}
					<p class="text-scald" role="alert">{program.said}</p>
					<p class="mt-1 text-steam">
						The pack would contain <code>{program.file}</code> as your mod has it; it cannot be downloaded or tried
						like this.
					</p>
				{:else if program.state === 'no game'}
					<p>
						<span class="font-semibold">{program.title}</span> is made by a program of the game.
						<a class="follow" href="/p/{data.project.slug}/start">Say where the game is</a>, so that it can be
						run.
					</p>
				{:else}
					<p>
						<span class="font-semibold">{program.title}</span> is made by a program of the game, which has not
						been run on this machine before. Until then <code>{program.file}</code>
						{data.files.some(({ path }) => path === program.file)
							? 'is left as it is.'
							: 'is not in the pack.'}
					</p>
					<p class="mt-1">
						<code class="rounded bg-wash px-1.5 py-0.5 break-all">{program.command?.join(' ')}</code>
					</p>
					<p class="mt-2">
						<button class="press" disabled={busy} onclick={() => void agree(program)}>Run this program</button
						>
						<span class="text-steam">on a copy of your mod, now and whenever its sources change</span>
					</p>
				{/if}
			</section>
		{/if}
	{/each}
	{#if data.files.length === 0}
		<div class="plate mt-4 p-6">
			<p class="font-semibold">Your mod is empty: there is nothing to pack yet.</p>
			<p class="mt-3">
				<a class="press main" href="/p/{data.project.slug}/find">Find something to change</a>
			</p>
		</div>
	{:else}
		<table class="plate mt-4 block w-full text-left">
			<thead class="text-[12px] text-steam"
				><tr
					><th class="px-4 py-1.5 font-normal">File</th><th class="font-normal">Reason</th><th
						class="px-3 text-right font-normal">Records</th
					><th class="px-4 text-right font-normal">Bytes</th><th class="pr-4 font-normal">SHA-256</th></tr
				></thead
			>
			<tbody>
				{#each data.files as file (file.path)}
					<tr class="border-t border-line align-top"
						><td class="px-4 py-1.5"
							><a class="follow" href={fileAddress(data.project.slug, data.mine, file.path)}
								><code>{file.path}</code></a
							></td
						><td class="py-1.5"
							><span class="font-semibold">{whys[file.why]}</span>:
							<span class="text-steam">{file.reason}</span></td
						><td class="px-3 py-1.5 text-right font-mono">{file.records || ''}</td><td
							class="px-4 py-1.5 text-right font-mono">{file.bytes}</td
						><td class="py-1.5 pr-4"
							><code class="text-[12px] text-steam" title={file.sha256}>{file.sha256.slice(0, 10)}</code></td
						></tr
					>
				{/each}
			</tbody>
		</table>
		<p class="mt-4 flex items-center gap-3">
			{#if !failed}<a class="press main" href="/p/{data.project.slug}/api/pack" download>Download as ZIP</a><a
					class="press"
					href="/p/{data.project.slug}/trial">Try it in the game</a
				>{/if}<a class="press" href="/p/{data.project.slug}/share">Share it</a
			>{#if data.files.some(({ why }) => why === 'overrides' || why === 'patch')}<a
					class="press"
					href="/p/{data.project.slug}/api/patch"
					download>Save as a patch</a
				>{/if}<span class="text-steam"
				>{data.files.length} files, {total} bytes. The same mod always gives the same bytes.</span
			>
		</p>
	{/if}
</div>
