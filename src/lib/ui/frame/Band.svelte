<script lang="ts">
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import type { Counts, Vouched } from '$core/checks';
	import Dial from './Dial.svelte';
	import { step } from './client.svelte';
	import { Moon, Pocket, Redo, Search, Sun, Undo } from './icons';
	import { pocket } from './pocket.svelte';
	import { onAction, STAGES } from './keys';

	/** What is always in sight: dial, project, stages, search. */
	let {
		slug,
		title,
		gameVersion,
		mod,
		words,
		scripts,
		places,
		counts,
		vouched,
		steps,
		onhelp
	}: {
		slug: string;
		title: string;
		gameVersion: string | null;
		/** My mod; null where it has no name that can be used. */
		mod: { title: string; version: string } | null;
		/** Whether the game has texts in languages, scripts, and maps; a stage that it has nothing for is left out. */
		words: boolean;
		scripts: boolean;
		places: boolean;
		counts: Counts;
		vouched: Vouched;
		steps: { undo: string | null; redo: string | null };
		onhelp: () => void;
	} = $props();

	let box = $state<HTMLInputElement>();
	let dark = $state(typeof document !== 'undefined' && document.documentElement.dataset.theme === 'dark');
	/** The stage of the page: a page below one belongs to it. */
	const here = $derived((page.url.pathname.split('/')[3] ?? '').replace(/^try$/, 'scripts'));

	const stages = $derived(
		STAGES.filter(
			({ path }) =>
				(scripts || path !== 'scripts') && (words || path !== 'words') && (places || path !== 'places')
		)
	);

	$effect(() =>
		onAction('search', () => {
			box?.focus();
			box?.select();
		})
	);

	function turn() {
		dark = !dark;
		document.documentElement.dataset.theme = dark ? 'dark' : 'light';
		localStorage.setItem('theme', dark ? 'dark' : 'light');
	}

	function search(event: SubmitEvent) {
		event.preventDefault();
		void goto(`/p/${slug}/find?q=${encodeURIComponent(box?.value ?? '')}`);
	}
</script>

<header class="flex h-14 shrink-0 items-center gap-2 xl:gap-4 border-b-2 border-rim bg-porcelain px-3">
	<Dial {counts} {vouched} href="/p/{slug}/snags" />
	<span class="min-w-0 leading-tight">
		<a href="/?all" class="block truncate font-title text-[16px] font-medium" title="All projects"
			>{title}{#if gameVersion}<span class="ml-1.5 font-sans text-[12px] text-steam">{gameVersion}</span
				>{/if}</a
		>
		<a
			href="/p/{slug}/mod"
			class="block truncate text-[12px] text-copper underline-offset-2 hover:underline"
			title="Your mod: its name, version and what it needs"
			>{mod ? `${mod.title} ${mod.version}` : 'Name your mod'}</a
		>
	</span>
	<nav aria-label="Stages" class="flex h-full items-stretch">
		{#each stages as stage (stage.path)}
			<a
				href="/p/{slug}/{stage.path}"
				aria-current={here === stage.path ? 'page' : undefined}
				aria-keyshortcuts={stage.digit}
				title="{stage.title}: key {stage.digit}"
				class="relative flex items-center border-y-2 border-transparent px-2 font-semibold whitespace-nowrap xl:px-2.5 {here ===
				stage.path
					? 'border-b-brass'
					: 'text-steam hover:text-rim'}"
				><span
					class="absolute top-0.5 left-1/2 -translate-x-1/2 font-mono text-[10px] font-normal text-steam"
					aria-hidden="true">{stage.digit}</span
				>{stage.title}</a
			>
		{/each}
	</nav>
	<span class="flex-1"></span>
	<div class="flex items-center">
		<button
			class="rounded-full p-2 hover:bg-wash disabled:opacity-40"
			disabled={!steps.undo}
			onclick={() => void step(slug, 'undo')}
			title={steps.undo ? `Undo: ${steps.undo} (Ctrl Z)` : 'Nothing to undo'}
			aria-label={steps.undo ? `Undo: ${steps.undo}` : 'Nothing to undo'}><Undo size={17} /></button
		>
		<button
			class="rounded-full p-2 hover:bg-wash disabled:opacity-40"
			disabled={!steps.redo}
			onclick={() => void step(slug, 'redo')}
			title={steps.redo ? `Redo: ${steps.redo} (Ctrl Shift Z)` : 'Nothing to redo'}
			aria-label={steps.redo ? `Redo: ${steps.redo}` : 'Nothing to redo'}><Redo size={17} /></button
		>
		<a
			class="rounded-full px-2 py-1.5 font-semibold text-steam hover:bg-wash"
			href="/p/{slug}/ledger"
			aria-current={here === 'ledger' ? 'page' : undefined}>Ledger</a
		>
	</div>
	{#if here !== 'find'}
		<form role="search" class="relative" onsubmit={search} action="/p/{slug}/find">
			<span class="pointer-events-none absolute top-2 left-2.5 text-steam"><Search size={15} /></span>
			<input
				bind:this={box}
				name="q"
				class="box w-24 rounded-full pl-8 xl:w-44"
				placeholder="Search  /"
				aria-label="Search everything"
				value=""
			/>
		</form>
	{/if}
	<button
		class="relative rounded-full p-2 hover:bg-wash {pocket.open ? 'bg-wash' : ''}"
		onclick={() => (pocket.open = !pocket.open)}
		aria-pressed={pocket.open}
		title="Pocket (o)"
		aria-label="Pocket, {pocket.items.length} kept"
		><Pocket size={17} />{#if pocket.items.length > 0}<span
				class="absolute -top-0.5 -right-0.5 grid h-4 min-w-4 place-items-center rounded-full bg-brass px-0.5 text-[10px] leading-none font-semibold text-[#1f2a44]"
				>{pocket.items.length}</span
			>{/if}</button
	>
	<button
		class="grid size-8 place-items-center rounded-full text-[16px] font-semibold hover:bg-wash"
		onclick={onhelp}
		aria-label="Help: keys">?</button
	>
	<button class="rounded-full p-2 hover:bg-wash" onclick={turn} aria-label={dark ? 'Light' : 'Dark'}
		>{#if dark}<Sun size={17} />{:else}<Moon size={17} />{/if}</button
	>
</header>
