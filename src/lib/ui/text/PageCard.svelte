<script lang="ts">
	import type { Intention } from '$core/edits';
	import type { PageView } from '$core/views';
	import { Down, Plus, Up, X } from '../frame/icons';
	import Pieces from './Pieces.svelte';

	/** A page of text as players see it; read, written, moved, with new ones before and after it. */
	let {
		page,
		path,
		shown,
		count,
		change
	}: {
		page: PageView;
		path: string;
		/** Its place in the order of the game, from 1. */
		shown: number;
		count: number;
		change: (intention: Intention) => Promise<boolean>;
	} = $props();

	let form = $state<'set' | 'before' | 'behind' | null>(null);
	let title = $state<string | null>(null);
	let text = $state('');
	const name = $derived(page.title ?? `page ${shown}`);

	function open(how: 'set' | 'before' | 'behind'): void {
		form = how;
		title = page.title === null ? null : how === 'set' ? page.title : '';
		text = how === 'set' ? page.text : '';
	}

	async function save(event: SubmitEvent): Promise<void> {
		event.preventDefault();
		const how = form!;
		const done = await change({
			do: 'page',
			path,
			nth: page.nth,
			how,
			title,
			text,
			expected: page.text
		});
		if (done) form = null;
	}

	const act = (how: 'earlier' | 'later' | 'remove') =>
		void change({ do: 'page', path, nth: page.nth, how, expected: page.text });
	const WHAT = { set: 'Change', before: 'New page before', behind: 'New page after' };
</script>

{#snippet editor()}
	<form class="space-y-2 p-4" aria-label="{WHAT[form!]} {name}" onsubmit={save}>
		<p class="font-semibold">{WHAT[form!]} “{name}”</p>
		{#if title !== null}
			<label class="block"
				><span class="text-[12px] text-steam">Title</span><input
					class="box block w-full"
					bind:value={title}
					{@attach (box: HTMLElement) => box.focus()}
				/></label
			>
		{/if}
		<label class="block"
			><span class="text-[12px] text-steam">Text</span><textarea
				class="box block h-28 w-full"
				bind:value={text}
				required></textarea></label
		>
		<div class="flex gap-2">
			<button class="press main">Save</button>
			<button class="press" type="button" onclick={() => (form = null)}>Cancel</button>
		</div>
	</form>
{/snippet}

{#if form === 'before'}<li class="plate">{@render editor()}</li>{/if}
<li class="plate group/item" aria-label="Page {shown}: {name}">
	{#if form === 'set'}{@render editor()}{:else}
		<div class="flex gap-4 px-4 py-3">
			<span class="w-6 shrink-0 text-right font-mono text-[15px] text-steam">{shown}</span>
			<div class="min-w-0 flex-1">
				{#if page.title !== null}<p class="text-[12px] text-steam">{page.title}</p>{/if}
				<p class="whitespace-pre-wrap">
					<Pieces pieces={page.pieces} />
				</p>
			</div>
			<span class="flex shrink-0 items-start gap-1">
				<button class="press h-7" aria-label="Change {name}" onclick={() => open('set')}>Change</button>
				<button
					class="rounded p-1 hover:bg-wash"
					aria-label="New page before {name}"
					title="New page before"
					onclick={() => open('before')}><Plus size={14} /><span class="sr-only">before</span></button
				>
				<button
					class="rounded p-1 hover:bg-wash disabled:opacity-30"
					disabled={shown === 1}
					aria-label="Show {name} earlier"
					title="Show it earlier"
					onclick={() => act('earlier')}><Up size={14} /></button
				>
				<button
					class="rounded p-1 hover:bg-wash disabled:opacity-30"
					disabled={shown === count}
					aria-label="Show {name} later"
					title="Show it later"
					onclick={() => act('later')}><Down size={14} /></button
				>
				<button
					class="rounded p-1 hover:bg-wash"
					aria-label="Remove {name}"
					title="Remove"
					onclick={() => act('remove')}><X size={14} /></button
				>
			</span>
		</div>
	{/if}
</li>
{#if shown === count && form !== 'behind'}
	<li>
		<button class="press slight" onclick={() => open('behind')}>New page at the end</button>
	</li>
{/if}
{#if form === 'behind'}<li class="plate">{@render editor()}</li>{/if}
