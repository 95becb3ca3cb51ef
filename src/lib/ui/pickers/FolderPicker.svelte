<script lang="ts">
	import { Dialog } from 'bits-ui';
	import { tick } from 'svelte';
	import { counted } from '$core/wording';
	import type { FolderEntry, FolderList } from '$core/views';
	import { keepFolder, recentFolders } from './folders';

	/** A folder or an archive of this machine: chosen in a list, or typed. */
	let {
		value = $bindable(''),
		label,
		required = false,
		placeholder = ''
	}: { value: string; label: string; required?: boolean; placeholder?: string } = $props();

	let open = $state(false);
	let list = $state<FolderList | null>(null);
	let fault = $state('');
	let at = $state(0);
	let box = $state<HTMLElement>();
	let recent = $state<string[]>([]);
	const here = $derived(list?.entries[at]);

	async function go(path: string | null, focusOn = '') {
		const answer = await fetch(
			`/api/folders${path === null ? '' : `?path=${encodeURIComponent(path)}`}`
		).catch(() => null);
		if (!answer?.ok) {
			fault = answer
				? ((await answer.json()) as { message: string }).message
				: 'The server is not responding.';
			// A folder that is gone: back to where one can begin.
			if (path !== null && list === null) await go(null);
			return;
		}
		fault = '';
		list = (await answer.json()) as FolderList;
		at = Math.max(
			0,
			list.entries.findIndex(({ name }) => name === focusOn)
		);
		await tick();
		box?.focus();
		show();
	}

	function show() {
		box?.querySelector(`[data-nth="${at}"]`)?.scrollIntoView({ block: 'nearest' });
	}

	async function begin() {
		recent = recentFolders();
		open = true;
		await go(value.trim() === '' ? null : value.trim().replace(/\/+$/, ''));
	}

	function choose(path: string) {
		value = path;
		keepFolder(path);
		open = false;
	}
	const enter = (entry: FolderEntry) => (entry.kind === 'archive' ? choose(entry.path) : void go(entry.path));
	const up = () => list?.path && void go(list.parent, list.path.split('/').at(-1));

	function key(event: KeyboardEvent) {
		const count = list?.entries.length ?? 0;
		const moves: Record<string, number> = {
			ArrowDown: at + 1,
			ArrowUp: at - 1,
			Home: 0,
			End: count - 1,
			PageDown: at + 12,
			PageUp: at - 12
		};
		const next = moves[event.key];
		if (next !== undefined) at = Math.max(0, Math.min(count - 1, next));
		else if ((event.key === 'Enter' && event.ctrlKey) || event.key === ' ') {
			if (here) choose(here.path);
		} else if (event.key === 'Enter' || event.key === 'ArrowRight') {
			if (here) enter(here);
		} else if (event.key === 'Backspace' || event.key === 'ArrowLeft') up();
		else if (event.key.length === 1 && !event.ctrlKey && !event.metaKey) {
			// A letter goes to the next name that begins with it.
			const letter = event.key.toLowerCase();
			const order = Array.from({ length: count }, (_, nth) => (at + 1 + nth) % count);
			at = order.find((nth) => list!.entries[nth]!.name.toLowerCase().startsWith(letter)) ?? at;
		} else return;
		event.preventDefault();
		show();
	}
</script>

<span class="flex gap-2">
	<input
		class="box block w-full min-w-0 font-mono"
		aria-label={label}
		bind:value
		{required}
		{placeholder}
		autocomplete="off"
	/>
	<button type="button" class="press shrink-0" title="Browse for: {label}" onclick={() => void begin()}
		>Browse…</button
	>
</span>

<Dialog.Root bind:open>
	<Dialog.Portal>
		<Dialog.Overlay class="fixed inset-0 z-40 bg-black/40" />
		<Dialog.Content
			class="plate fixed top-16 left-1/2 z-50 flex max-h-[80vh] w-[620px] max-w-[94vw] -translate-x-1/2 flex-col p-5 shadow-xl"
		>
			<Dialog.Title class="text-[16px] font-semibold">{label}</Dialog.Title>
			<Dialog.Description class="text-[12px] text-steam"
				>Enter opens a folder, Backspace goes up, Space chooses it.</Dialog.Description
			>
			<p class="mt-2 flex items-center gap-2">
				<button type="button" class="press slight" disabled={!list?.path} onclick={up}>Up</button>
				<code class="min-w-0 truncate" title={list?.path}>{list?.path ?? 'Folders that may be read'}</code>
			</p>
			{#if fault}<p class="mt-1 text-scald" role="alert">{fault}</p>{/if}
			<div
				bind:this={box}
				class="mt-2 min-h-48 flex-1 overflow-auto rounded-lg border border-line py-1 outline-offset-2"
				role="listbox"
				tabindex="0"
				aria-label="Folders and archives"
				aria-activedescendant={here ? `entry-${at}` : undefined}
				onkeydown={key}
			>
				{#each list?.entries ?? [] as entry, nth (entry.path)}
					<!-- svelte-ignore a11y_click_events_have_key_events (the list itself takes the keys) -->
					<div
						id="entry-{nth}"
						data-nth={nth}
						role="option"
						tabindex="-1"
						aria-selected={nth === at}
						class="flex cursor-default items-center gap-2 px-3 py-1 {nth === at ? 'bg-wash' : ''}"
						onclick={() => (at = nth)}
						ondblclick={() => enter(entry)}
					>
						<span class="min-w-0 flex-1 truncate">{entry.name}{entry.kind === 'folder' ? '/' : ''}</span>
						{#if entry.game}<span class="text-[12px] text-verdigris">looks like a game</span>{/if}
						{#if entry.kind === 'archive'}<span class="text-[12px] text-steam">archive</span>{/if}
					</div>
				{:else}
					<p class="px-3 py-2 text-steam">
						{list ? 'No folders or archives in here. You can still choose the folder itself.' : 'Loading…'}
					</p>
				{/each}
				{#if list && list.more > 0}<p class="px-3 py-1 text-steam">
						{counted(list.more, 'more entry is', 'more entries are')} not listed; type the path instead.
					</p>{/if}
			</div>
			{#if recent.length > 0}
				<p class="mt-2 flex flex-wrap items-baseline gap-x-3 text-[12px] text-steam">
					Recent:
					{#each recent as path (path)}<button type="button" class="follow" onclick={() => choose(path)}
							>{path.split('/').slice(-2).join('/')}</button
						>{/each}
				</p>
			{/if}
			<div class="mt-3 flex justify-end gap-2">
				<Dialog.Close class="press" type="button">Cancel</Dialog.Close>
				{#if here}<button type="button" class="press" onclick={() => choose(here.path)}
						>Choose {here.name}</button
					>{/if}
				<button
					type="button"
					class="press main"
					disabled={!list?.path}
					onclick={() => list?.path && choose(list.path)}>Choose this folder</button
				>
			</div>
		</Dialog.Content>
	</Dialog.Portal>
</Dialog.Root>
