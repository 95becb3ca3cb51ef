<script lang="ts">
	import Nick from '../frame/Nick.svelte';
	import { LinkPreview } from 'bits-ui';
	import type { Named, Ticket } from '$core/views';

	/** A reference as a word: follow it, or rest on it to see what it names. */
	let { slug, target, href }: { slug: string; target: Named; href: string } = $props();
	let peek = $state<Ticket | null>(null);
	let open = $state(false);

	async function load() {
		const answer = await fetch(
			`/p/${slug}/api/ticket/${encodeURIComponent(target.kind)}/${encodeURIComponent(target.id)}`
		);
		if (answer.ok) peek = await answer.json();
	}
</script>

<LinkPreview.Root bind:open openDelay={200} onOpenChange={(shown) => shown && void load()}>
	<LinkPreview.Trigger>
		{#snippet child({ props })}
			<!-- It is a link first; the peek only comes on top. -->
			<a
				{...props}
				{href}
				role={undefined}
				class="follow truncate"
				onkeydown={(event) => {
					if (event.key !== ' ') return;
					event.preventDefault();
					open = !open;
					if (open) void load();
				}}>{target.name}<Nick on={{ kind: target.kind, record: target.id }} /></a
			>
		{/snippet}
	</LinkPreview.Trigger>
	<LinkPreview.Portal>
		<LinkPreview.Content sideOffset={6} class="plate z-50 w-72 p-3 shadow-lg">
			<p class="font-semibold">
				{target.name} <code class="text-[12px] font-normal text-steam">{target.id}</code>
			</p>
			{#if peek}
				<dl class="mt-1 grid grid-cols-[1fr_auto] gap-x-3">
					{#each peek.groups.flatMap((group) => group.rows).slice(0, 8) as row (row.path)}
						<dt class="text-steam">{row.title}</dt>
						<dd class="text-right font-mono {row.changed ? 'text-copper' : ''}">
							{row.value || '—'}
							{row.unit ?? ''}
						</dd>
					{/each}
				</dl>
				<p class="mt-1 text-[12px] text-steam">Used by {peek.usedBy.length}</p>
			{/if}
		</LinkPreview.Content>
	</LinkPreview.Portal>
</LinkPreview.Root>
