<script lang="ts">
	/** A layout that somebody wrote elsewhere. */
	let { paste }: { paste: (written: string) => Promise<string> } = $props();

	let written = $state('');
	let fault = $state('');
	let busy = $state(false);

	async function use() {
		busy = true;
		fault = await paste(written);
		busy = false;
	}
</script>

<details class="mt-2 rounded-lg border border-line px-3 py-1.5">
	<summary class="cursor-pointer font-semibold">Use a layout from elsewhere</summary>
	<label class="mt-1 block"
		>Paste it: YAML, or a description for Kaitai Struct<textarea
			class="box mt-0.5 block h-28 w-full font-mono text-[12px]"
			bind:value={written}
			spellcheck="false"></textarea></label
	>
	{#if fault}<p class="text-scald" role="alert">{fault}</p>{/if}
	<button type="button" class="press mt-1" disabled={busy || written.trim() === ''} onclick={() => void use()}
		>Use this layout</button
	>
</details>
