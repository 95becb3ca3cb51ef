<script lang="ts">
	import type { FieldRow } from '$core/views';

	/** The bits of one integer as switches with their names, and the integer itself. */
	let { row, save }: { row: FieldRow; save: (value: string) => Promise<boolean> } = $props();
	const toggled = (bit: number, on: boolean) => String(Number(row.value) + (on ? 2 ** bit : -(2 ** bit)));
</script>

<span class="flex flex-wrap items-center gap-x-3 gap-y-0.5">
	{#each row.flags as flag (flag.bit)}
		<label class="flex items-center gap-1"
			><input
				type="checkbox"
				class="accent-(--rim)"
				checked={flag.set}
				onchange={(event) => void save(toggled(flag.bit, event.currentTarget.checked))}
			/>{flag.name}</label
		>
	{/each}
	<code class="text-[12px] text-steam">= {row.value}, {Number(row.value).toString(16).toUpperCase()} hex</code
	>
</span>
