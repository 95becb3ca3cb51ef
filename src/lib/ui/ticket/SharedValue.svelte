<script lang="ts">
	import { counted } from '$core/wording';
	import type { FieldRow } from '$core/views';

	/** A value behind an address: who else points at it, whether it is changed for all, and what else could be pointed at. */
	let {
		row,
		shared,
		everywhere = $bindable(),
		class: place = '',
		set,
		linkTo
	}: {
		row: FieldRow;
		shared: NonNullable<FieldRow['shared']>;
		everywhere: boolean;
		class?: string;
		set: (field: string, value: string, expected: string | null) => Promise<boolean>;
		linkTo: (kind: string, id: string) => string;
	} = $props();

	const MOST_NAMED = 6;
	const others = $derived(shared.others.slice(0, MOST_NAMED));
	const rest = $derived(shared.others.length - others.length);
	const values = $derived(shared.values.filter((value) => value !== row.value));

	async function point(control: HTMLSelectElement) {
		const value = control.value;
		if (value !== '') await set(row.path, value, row.value);
		control.value = '';
	}
</script>

<div
	class="{place} flex flex-wrap items-center gap-x-2 pb-0.5 text-[12px] leading-4 text-steam"
	data-shared={row.path}
>
	{#if others.length > 0}
		<span
			>Kept once, at byte {shared.at}, with {#each others as other, nth (`${other.kind} ${other.id} ${other.field}`)}{nth >
				0
					? ', '
					: ''}{#if other.kind}<a class="follow" href={linkTo(other.kind, other.id)}>{other.name}</a
					>{:else}{other.name}{/if}{/each}{rest > 0 ? ` and ${rest} more` : ''}.</span
		>
		<label class="flex items-center gap-1 text-ink"
			><input type="checkbox" class="accent-(--rim)" bind:checked={everywhere} />Change it for all {counted(
				shared.others.length + 1,
				'record'
			)}</label
		>
	{:else}<span>At byte {shared.at}; nothing else points at it.</span>{/if}
	{#if values.length > 0 && !everywhere}
		<label class="flex items-center gap-1"
			>Or point at
			<select class="box h-6 font-mono text-[12px]" onchange={(event) => void point(event.currentTarget)}>
				<option value="">another value…</option>
				{#each values as value (value)}<option {value}>{value}</option>{/each}
			</select></label
		>
	{/if}
</div>
