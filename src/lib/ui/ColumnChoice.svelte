<script lang="ts">
	import { Popover } from 'bits-ui';
	import type { TableView } from '$core/views';

	/** Which columns a table shows, and in which order; the choice goes into the address. */
	let {
		table,
		columns,
		choose
	}: { table: TableView; columns: string[]; choose: (cols: string | null) => void } = $props();

	const all = $derived(table.columns.map(({ path }) => path));
	const listed = $derived([...columns, ...all.filter((path) => !columns.includes(path))]);
	const titleOf = (path: string) => table.columns.find((column) => column.path === path)?.title ?? path;
	const give = (next: string[]) =>
		choose(
			next.length === 0 || (next.length === all.length && next.every((path, at) => path === all[at]))
				? null
				: next.join(',')
		);

	function move(path: string, by: number) {
		const at = columns.indexOf(path);
		const to = at + by;
		if (at < 0 || to < 0 || to >= columns.length) return;
		const next = [...columns];
		next.splice(at, 1);
		next.splice(to, 0, path);
		give(next);
	}
</script>

<Popover.Root>
	<Popover.Trigger class="press"
		>Columns{columns.length < all.length ? ` (${columns.length} of ${all.length})` : ''}</Popover.Trigger
	>
	<Popover.Portal>
		<Popover.Content
			sideOffset={4}
			align="end"
			class="plate z-40 max-h-[60vh] w-72 overflow-auto p-2 shadow-lg"
		>
			{#each listed as path (path)}
				<div class="flex items-center gap-2 rounded px-1 py-0.5 hover:bg-wash">
					<label class="flex min-w-0 flex-1 items-center gap-2"
						><input
							type="checkbox"
							class="accent-(--rim)"
							checked={columns.includes(path)}
							onchange={(event) =>
								give(
									event.currentTarget.checked ? [...columns, path] : columns.filter((one) => one !== path)
								)}
						/><span class="truncate">{titleOf(path)}</span></label
					>
					{#if columns.includes(path)}
						<button class="px-1" aria-label="{titleOf(path)} further left" onclick={() => move(path, -1)}
							>↑</button
						>
						<button class="px-1" aria-label="{titleOf(path)} further right" onclick={() => move(path, 1)}
							>↓</button
						>
					{/if}
				</div>
			{/each}
			<p class="mt-1 border-t border-line pt-2">
				<button class="press" onclick={() => choose(null)}>As the guide has them</button>
			</p>
		</Popover.Content>
	</Popover.Portal>
</Popover.Root>
