<script lang="ts">
	import { onMount, tick } from 'svelte';
	import { pocket } from '../frame/pocket.svelte';

	/** A value that is edited in place: Enter or leaving writes it, Esc leaves it as it was. */
	let {
		value,
		label,
		mine = false,
		wide = false,
		numeric = false,
		empty = '—',
		tall = false,
		fault = () => null,
		typing,
		begun = false,
		ended = () => undefined,
		save
	}: {
		value: string;
		label: string;
		mine?: boolean;
		wide?: boolean;
		numeric?: boolean;
		/** What is there when there is no value. */
		empty?: string;
		/** Room for several lines, also where there is none yet. */
		tall?: boolean;
		/** Hears what is being typed; null when that is over. */
		typing?: (text: string | null) => void;
		/** Whether it is edited from the beginning. */
		begun?: boolean;
		/** Hears that editing is over, and whether the focus stays here. */
		ended?: (refocus: boolean) => void;
		/** What is wrong with what is typed, in words. */
		fault?: (text: string) => string | null;
		save: (value: string) => Promise<boolean>;
	} = $props();

	let editing = $state(false);
	let typed = $state('');
	let input = $state<HTMLInputElement | HTMLTextAreaElement>();
	/** A one-line field would drop the line ends of the text without a word. */
	const lines = $derived(tall || value.includes('\n'));
	let button = $state<HTMLButtonElement>();
	const wrong = $derived(editing && typed !== value ? fault(typed) : null);
	$effect(() => typing?.(editing ? typed : null));

	async function begin() {
		typed = value;
		editing = true;
		await tick();
		input?.focus();
		input?.select();
	}

	onMount(() => {
		if (begun) void begin();
	});

	async function end(write: boolean, refocus: boolean) {
		if (!editing) return;
		editing = false;
		if (write && typed !== value) await save(typed);
		if (refocus) {
			await tick();
			button?.focus();
		}
		ended(refocus);
	}

	function onkeydown(event: KeyboardEvent) {
		if (event.key === 'Enter' && !event.isComposing && !event.shiftKey) {
			event.preventDefault();
			void end(true, true);
		} else if (event.key === 'Escape') {
			event.preventDefault();
			void end(false, true);
		}
	}
</script>

{#if editing}
	<span class="block {wide ? 'w-full' : ''}">
		{#if lines}
			<textarea
				bind:this={input}
				bind:value={typed}
				{onkeydown}
				onblur={() => void end(true, false)}
				aria-label={label}
				aria-invalid={wrong !== null}
				rows="4"
				title="Shift Enter begins a new line"
				class="box w-full px-2 font-mono {tall ? 'h-16' : 'h-24'} {numeric ? 'text-right' : ''}"></textarea>
		{:else}
			<input
				bind:this={input}
				bind:value={typed}
				{onkeydown}
				onblur={() => void end(true, false)}
				aria-label={label}
				aria-invalid={wrong !== null}
				class="box h-6.5 w-full px-2 font-mono {numeric ? 'text-right' : ''}"
			/>
		{/if}
		{#if wrong}<span class="block text-[12px] text-scald" role="alert">{wrong}</span>{/if}
	</span>
{:else}
	<button
		bind:this={button}
		data-edit
		class="min-h-6.5 w-full rounded border border-transparent px-2 py-0.5 hover:border-steam {wide
			? 'text-left break-words'
			: 'truncate'} {numeric ? 'text-right font-mono' : 'text-left'} {wide ? '' : 'font-mono'} {mine
			? 'text-copper'
			: value === ''
				? 'text-steam'
				: ''}"
		onclick={begin}
		onkeydown={(event) => {
			if (event.key !== 'p' || event.ctrlKey || event.metaKey || event.altKey || !pocket.inHand) return;
			event.preventDefault();
			event.stopPropagation();
			void save(pocket.inHand.value);
		}}
		ondragover={(event) => event.preventDefault()}
		ondrop={(event) => {
			event.preventDefault();
			const text = event.dataTransfer?.getData('text/plain');
			if (text !== undefined) void save(text);
		}}
		data-value={value}
		data-label={label}
		aria-label="{label}: {value || (empty === '—' ? 'nothing' : empty)}. Edit">{value || empty}</button
	>
{/if}
