<script lang="ts">
	import { Dialog } from 'bits-ui';
	import { KEYS } from './keys';

	let { open = $bindable(false) }: { open: boolean } = $props();
</script>

<Dialog.Root bind:open>
	<Dialog.Portal>
		<Dialog.Overlay class="fixed inset-0 z-40 bg-black/40" />
		<Dialog.Content
			class="plate fixed top-16 left-1/2 z-50 w-[680px] max-w-[94vw] -translate-x-1/2 p-5 shadow-xl"
		>
			<Dialog.Title class="text-[16px] font-semibold">Keys</Dialog.Title>
			<Dialog.Description class="mb-3 text-steam"
				>In tables and lists the arrow keys move and Enter opens. Copper is mine; ink is the base.</Dialog.Description
			>
			<dl class="grid grid-cols-2 gap-x-6 gap-y-1">
				{#each KEYS as key (key.keys)}
					<div class="flex gap-3">
						<dt class="w-32 shrink-0">
							<kbd class="rounded border border-line bg-enamel px-1.5 whitespace-nowrap">{key.keys}</kbd>
						</dt>
						<dd>{key.does}</dd>
					</div>
				{/each}
			</dl>
			<div class="mt-4 text-right"><Dialog.Close class="press">Close</Dialog.Close></div>
		</Dialog.Content>
	</Dialog.Portal>
</Dialog.Root>
