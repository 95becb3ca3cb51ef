<script lang="ts">
	import PlanView from '$ui/PlanView.svelte';
	import { page } from '$app/state';

	let { data } = $props();
	const states: Record<string, string> = {
		applied: '',
		undone: 'taken back',
		dropped: 'taken back for good'
	};
	const when = (at: string) => new Date(at).toLocaleString([], { dateStyle: 'short', timeStyle: 'medium' });
	const open = $derived(Number(page.url.searchParams.get('plan')));
</script>

<svelte:head><title>Ledger · Kettle Dial</title></svelte:head>
<div class="mx-auto max-w-4xl px-6 py-6">
	<h1>Ledger</h1>
	<p class="mt-1 text-steam">
		Every plan that was applied, the newest first. Ctrl Z takes the last one back, also after a restart.
	</p>
	{#if data.entries.length === 0}
		<div class="plate mt-4 p-6">
			<p class="font-semibold">Nothing was changed yet.</p>
			<p class="mt-3">
				<a class="press main" href="/p/{data.project.slug}/find">Find something to change</a>
			</p>
		</div>
	{/if}
	<ol class="mt-4 space-y-2">
		{#each data.entries as entry (entry.id)}
			<li class="plate {entry.state === 'applied' ? '' : 'opacity-75'}">
				<details open={open === entry.id}>
					<summary class="flex cursor-pointer items-baseline gap-3 px-4 py-2"
						><span class="font-mono text-[12px] text-steam">{entry.id}</span><span
							class="flex-1 font-semibold {entry.state === 'applied' ? '' : 'line-through'}"
							>{entry.title}</span
						><span class="text-steam">{states[entry.state]}</span><span class="text-[12px] text-steam"
							>{when(entry.at)}</span
						></summary
					>
					<div class="border-t border-line px-4 py-3">
						<PlanView plan={entry.plan} />
						<p class="mt-3"><a class="follow text-steam" href="?plan={entry.id}">Address of this plan</a></p>
					</div>
				</details>
			</li>
		{/each}
	</ol>
</div>
