<script lang="ts">
	import { page } from '$app/state';
	import { dismiss, messages, step } from './client.svelte';
	import { X } from './icons';
	const slug = $derived(page.params.project);
</script>

<div class="fixed bottom-4 left-1/2 z-[60] -translate-x-1/2 space-y-2" aria-live="polite">
	{#each messages as message (message.id)}
		<div
			class="flex max-w-[80vw] items-center gap-3 rounded-full border px-4 py-2 shadow-lg {message.bad
				? 'border-scald bg-porcelain text-scald'
				: 'border-rim bg-rim text-porcelain'}"
			role={message.bad ? 'alert' : 'status'}
			data-testid="message"
		>
			<span>{message.text}</span>
			{#if message.undo && slug}<button
					class="font-semibold underline underline-offset-2"
					onclick={() => void step(slug, 'undo')}>Undo</button
				>{/if}
			{#if message.again}<button
					class="font-semibold underline underline-offset-2"
					onclick={() => message.again?.()}>Try again</button
				>{/if}
			{#if message.link}<a
					class="font-semibold underline underline-offset-2"
					href={message.link.href}
					onclick={() => dismiss(message.id)}>{message.link.title}</a
				>{/if}
			<button aria-label="Close this message" onclick={() => dismiss(message.id)}><X size={16} /></button>
		</div>
	{/each}
</div>
