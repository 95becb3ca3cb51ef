<script lang="ts">
	import { tick } from 'svelte';
	import { changeGuide } from '../guide/change';

	/** What a code stands for, said where the code is seen; it goes into one's own field guide. */
	let {
		slug,
		kind,
		field,
		code,
		means
	}: { slug: string; kind: string; field: string; code: string; means: string | null } = $props();

	let typing = $state(false);
	let text = $state('');
	let input = $state<HTMLInputElement>();

	async function begin() {
		text = means ?? '';
		typing = true;
		await tick();
		input?.select();
	}
	async function end(write: boolean) {
		if (!typing) return;
		typing = false;
		if (write && text.trim() !== (means ?? ''))
			await changeGuide(slug, { do: 'code', kind, field, code, means: text.trim() });
	}
</script>

{#if typing}
	<input
		bind:this={input}
		bind:value={text}
		class="box h-6 w-48 px-1.5 text-[12px]"
		aria-label="What {code || 'the empty code'} stands for"
		onblur={() => void end(true)}
		onkeydown={(event) => {
			if (event.key !== 'Enter' && event.key !== 'Escape') return;
			event.preventDefault();
			event.stopPropagation();
			void end(event.key === 'Enter');
		}}
	/>
{:else}
	<button
		class="rounded decoration-dotted underline-offset-2 hover:underline {means
			? 'underline decoration-line'
			: 'text-[12px] text-steam underline'}"
		aria-label="{code || 'The empty code'} stands for {means ?? 'nothing yet'}. Change it"
		onclick={() => void begin()}>{means ?? 'add a meaning'}</button
	>
{/if}
