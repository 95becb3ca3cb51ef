<script lang="ts">
	import Nick from '../frame/Nick.svelte';
	import type { AlikeView } from '$core/views';
	import { onAction } from '../frame/keys';

	/** Records most like the one of the ticket, with what differs; asked for when somebody wants to know. */
	let {
		slug,
		kind,
		id,
		linkTo
	}: { slug: string; kind: string; id: string; linkTo: (kind: string, id: string) => string } = $props();

	let list = $state<AlikeView[] | null>(null);
	let fault = $state(false);
	let waiting = $state(false);
	let head = $state<HTMLElement>();

	async function load() {
		waiting = true;
		const answer = await fetch(
			`/p/${slug}/api/like/${encodeURIComponent(kind)}/${encodeURIComponent(id)}`
		).catch(() => null);
		fault = !answer?.ok;
		if (answer?.ok) list = await answer.json();
		waiting = false;
		head?.focus();
	}
	$effect(() => onAction('alike', () => void load()));
	const beside = (other: AlikeView) =>
		`/p/${slug}/compare?with=${encodeURIComponent(`${kind}/${id}`)}&with=${encodeURIComponent(`${other.kind}/${other.id}`)}`;
</script>

<h3 class="mt-6 flex items-baseline border-b border-line pb-0.5 font-semibold" tabindex="-1" bind:this={head}>
	Most like it
</h3>
{#if fault}
	<p class="mt-1 text-scald">
		The comparison failed. <button class="follow" onclick={load}>Try again</button>
	</p>
{:else if list === null}
	<p class="mt-1">
		<button class="press" disabled={waiting} onclick={load}
			>{waiting ? 'Comparing…' : 'Find similar records'}</button
		>
	</p>
{:else if list.length === 0}
	<p class="mt-1 text-steam">There is no other record of this kind to compare with.</p>
{:else}
	<ul data-testid="alike">
		{#each list as other (other.id)}
			<li class="border-b border-line/60 py-1">
				<span class="flex items-baseline gap-2">
					<a class="follow" href={linkTo(other.kind, other.id)}
						>{other.name}<Nick on={{ kind: other.kind, record: other.id }} /></a
					>
					<code class="text-[12px] text-steam">{other.id}</code>
					<span class="ml-auto text-[12px] text-steam">{Math.round(other.likeness * 100)} % alike</span>
					<a class="follow text-[12px]" href={beside(other)}>side by side</a>
				</span>
				<span class="block truncate text-[12px] text-steam"
					>{other.differs.length === 0
						? 'the same in every field that matters'
						: other.differs
								.map(({ title, here, there }) => `${title} ${there || 'nothing'} (not ${here || 'nothing'})`)
								.join(' · ')}{other.more > 0 ? ` and ${other.more} more` : ''}</span
				>
			</li>
		{/each}
	</ul>
{/if}
