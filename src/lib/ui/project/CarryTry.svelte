<script lang="ts">
	import type { CarryTrial } from '$core/views';
	import { counted } from '$core/wording';
	import { post } from '$ui/frame/client.svelte';

	/** My mod tried in the new version of the game before it is carried over, and what the game said. */
	let { slug, to }: { slug: string; to: string } = $props();

	let running = $state<AbortController | null>(null);
	let tried = $state.raw<CarryTrial | null>(null);
	let fault = $state<string | null>(null);

	async function start(): Promise<void> {
		const control = (running = new AbortController());
		[tried, fault] = [null, null];
		try {
			tried = await post<CarryTrial>(`/p/${slug}/api/carry/try`, { to }, control.signal);
		} catch (reason) {
			if (!control.signal.aborted) fault = (reason as Error).message;
		}
		running = null;
	}
	$effect(() => () => running?.abort());
</script>

<button class="press" disabled={running !== null} onclick={() => void start()}
	>Try it in the new version</button
>
{#if running}<button class="follow" onclick={() => running?.abort()}>Stop</button>{/if}
{#if running || tried || fault}
	<div class="plate order-last w-full p-4" role="status" data-testid="tried">
		{#if running}
			<p>The new version is running with your mod in it…</p>
		{:else if fault}
			<p class="text-scald" role="alert">{fault}</p>
		{:else if tried}
			<p class="font-semibold">
				{tried.status === 0 && tried.refusals === 0
					? 'The new version loads it cleanly.'
					: tried.refusals > 0
						? `The new version refused ${counted(tried.refusals, 'thing')}.`
						: tried.status === null
							? 'The game was stopped.'
							: `The game ended with status ${tried.status}.`}
				<span class="font-normal text-steam">Your mod was removed from its folder again.</span>
			</p>
			<details class="mt-1" open={tried.refusals > 0}>
				<summary class="cursor-pointer text-[13px] text-steam">Its log</summary>
				<ol class="mt-1 max-h-60 overflow-auto font-mono text-[12px]">
					{#each tried.lines as { text, refusal }, nth (nth)}<li class={refusal ? 'text-scald' : ''}>
							{text}
						</li>{/each}
				</ol>
				{#if tried.more > 0}<p class="text-[13px] text-steam">
						{tried.more.toLocaleString('en')} more lines are not shown.
					</p>{/if}
			</details>
		{/if}
	</div>
{/if}
