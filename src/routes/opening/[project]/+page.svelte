<script lang="ts">
	import { goto } from '$app/navigation';
	import type { OpeningState } from '$core/views';
	import PlainBand from '$ui/frame/PlainBand.svelte';
	import ProjectFiles from '$ui/project/ProjectFiles.svelte';

	let { data } = $props();

	let now = $state<OpeningState | null>(null);
	let fault = $state<string | null>(null);
	let lost = $state(false);
	/** What the server kept of the project, for when it cannot be opened. */
	let kept = $state<{ slug: string; name: string; at: string }[]>([]);
	let tries = $state(0);

	const STEPS = [
		['files', 'Loading files'],
		['meaning', 'Detecting structure'],
		['links', 'Linking and checking']
	] as const;
	const at = $derived(STEPS.findIndex(([step]) => step === now?.step));

	$effect(() => {
		const { slug, to } = data;
		let going = tries >= 0;
		void (async () => {
			while (going) {
				const answer = await fetch(`/opening/${slug}/state`).catch(() => null);
				if (!going) return;
				lost = answer === null;
				if (answer && !answer.ok) {
					fault = ((await answer.json().catch(() => null)) as { message?: string } | null)?.message ?? '';
					const files = await fetch(`/api/kept?of=${encodeURIComponent(slug)}`).catch(() => null);
					if (files?.ok) kept = (await files.json()) as typeof kept;
					return;
				}
				if (answer) now = (await answer.json()) as OpeningState;
				if (now?.open && !lost) {
					await goto(to, { replaceState: true });
					return;
				}
				if (lost) await new Promise((next) => setTimeout(next, 1000));
			}
		})();
		return () => (going = false);
	});
</script>

<svelte:head><title>Opening {data.slug} · Kettle Dial</title></svelte:head>
<PlainBand />
<main class="mx-auto max-w-3xl px-6 py-10">
	{#if fault !== null}
		<h1>{data.slug} cannot be opened</h1>
		<p class="mt-2" role="alert">{fault || 'The reason is in the server’s output. Nothing has changed.'}</p>
		<p class="mt-4 flex gap-2">
			<button
				class="press main"
				onclick={() => {
					fault = null;
					tries++;
				}}>Try again</button
			>
			<a class="press" href="/?all">All projects</a>
		</p>
		{#if kept.length > 0}
			<h2 class="mt-8">Project files of {data.slug}</h2>
			<p class="mt-1 text-steam">
				Each opens as a new project, as it was at that time. This project stays as it is.
			</p>
			<div class="plate mt-3 px-5 py-3"><ProjectFiles {kept} choose={false} /></div>
		{/if}
	{:else}
		<h1>Opening {data.slug}</h1>
		<p class="mt-1 text-steam">This happens once after a restart.</p>
		<div class="plate mt-4 p-5" role="status">
			<progress
				class="w-full accent-(--brass)"
				max={Math.max(1, now?.total ?? 1)}
				value={at > 0 ? now!.total : (now?.done ?? 0)}
				aria-label="Files loaded"
			></progress>
			<ol class="mt-2 space-y-1">
				{#each STEPS as [step, title], nth (step)}
					<li
						class="flex justify-between {nth === at ? 'font-semibold' : 'text-steam'}"
						aria-current={nth === at ? 'step' : undefined}
					>
						<span>{title}{nth < at ? ': done' : ''}</span>
						{#if step === 'files' && now && now.total > 0}<span class="font-normal text-steam"
								>{now.done} of {now.total} files</span
							>{/if}
					</li>
				{/each}
			</ol>
			{#if lost}<p class="mt-2 text-scald">The server is not responding. Trying again every second.</p>{/if}
		</div>
		<p class="mt-4"><a class="press" href="/?all">All projects</a></p>
	{/if}
</main>
