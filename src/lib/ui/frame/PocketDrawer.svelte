<script lang="ts">
	import Converter from '../editors/Converter.svelte';
	import { arrowKeys } from './move';
	import { dropItem, labelItem, loadPocket, pocket } from './pocket.svelte';
	import { X } from './icons';

	/** Slides over from the right: what is kept, to be taken in hand and put into fields. */
	let { slug, linkTo }: { slug: string; linkTo: (kind: string, id: string) => string } = $props();
	let panel = $state<HTMLElement>();

	$effect(() => {
		void loadPocket(slug);
	});
	$effect(() => {
		if (pocket.open) panel?.querySelector<HTMLElement>('[data-move], button')?.focus();
	});
</script>

{#if pocket.open}
	<aside
		bind:this={panel}
		class="fixed top-14 right-0 bottom-0 z-30 flex w-90 flex-col border-l-2 border-rim bg-porcelain shadow-xl"
		aria-label="Pocket"
		data-testid="pocket"
	>
		<header class="flex items-center border-b border-line px-4 py-2">
			<h2 class="flex-1">Pocket</h2>
			<button
				class="rounded-full p-1.5 hover:bg-wash"
				onclick={() => (pocket.open = false)}
				aria-label="Close the pocket"><X size={17} /></button
			>
		</header>
		{#if pocket.items.length === 0}
			<p class="flex-1 p-4 text-steam">
				The pocket is empty. <kbd class="font-mono">k</kbd> keeps the record of the open ticket, or the value of
				the field that the focus is on.
			</p>
		{:else}
			<p class="px-4 pt-2 text-[12px] text-steam">
				Pick a value, go to a field and press <kbd class="font-mono">p</kbd>; or drag it there.
			</p>
			<ul class="flex-1 overflow-auto p-2" {@attach arrowKeys}>
				{#each pocket.items as item (item.id)}
					<li class="border-b border-line/60 px-2 py-1.5">
						<span class="flex items-center gap-1">
							<input
								class="min-w-0 flex-1 rounded border border-transparent bg-transparent px-1 font-semibold hover:border-line"
								value={item.label}
								aria-label="Label"
								onchange={(event) => void labelItem(slug, item.id, event.currentTarget.value)}
							/>
							<button
								class="rounded-full p-1 text-steam hover:bg-wash"
								aria-label="Remove {item.label} from the pocket"
								onclick={() => void dropItem(slug, item.id)}><X size={14} /></button
							>
						</span>
						<span class="mt-0.5 flex items-center gap-2">
							<button
								data-move
								draggable="true"
								ondragstart={(event) => event.dataTransfer?.setData('text/plain', item.value)}
								aria-pressed={pocket.inHand?.id === item.id}
								class="max-w-52 truncate rounded-full border px-2.5 font-mono {pocket.inHand?.id === item.id
									? 'border-brass bg-brass/20'
									: 'border-line hover:bg-wash'}"
								title={item.value}
								onclick={() => (pocket.inHand = pocket.inHand?.id === item.id ? null : item)}
								>{item.value || 'nothing'}</button
							>
							{#if item.about.kind && item.about.record}
								<a
									class="follow truncate text-[12px] text-steam"
									href={linkTo(item.about.kind, item.about.record)}
									>{item.about.record}{item.about.field ? ` · ${item.about.field}` : ''}</a
								>
							{/if}
						</span>
					</li>
				{/each}
			</ul>
		{/if}
		<Converter {slug} />
	</aside>
{/if}
