<script lang="ts">
	import { Popover } from 'bits-ui';
	import type { TableView } from '$core/views';
	import type { ColumnWish } from './columns';
	import { Pin } from '../frame/icons';

	/** Which columns a table shows, in which order, which of them stay in sight, and whether in groups; the choice goes into the address. */
	let {
		table,
		wish,
		ids,
		choose
	}: {
		table: TableView;
		wish: ColumnWish;
		/** Whether references show their ids. */
		ids: boolean;
		choose: (changes: Record<string, string | null>) => void;
	} = $props();

	const all = $derived(table.columns.map(({ path }) => path));
	const columns = $derived.by(() => {
		const known = wish.cols.filter((path) => all.includes(path));
		return known.length > 0 ? known : all;
	});
	const listed = $derived([...columns, ...all.filter((path) => !columns.includes(path))]);
	const titleOf = (path: string) => table.columns.find((column) => column.path === path)?.title ?? path;
	const hasGroups = $derived(table.columns.some(({ group }) => group !== null));
	const give = (next: string[]) =>
		choose({
			cols:
				next.length === 0 || (next.length === all.length && next.every((path, at) => path === all[at]))
					? null
					: next.join(',')
		});
	const pin = (path: string) =>
		choose({
			pin: (wish.pin.includes(path) ? wish.pin.filter((one) => one !== path) : [...wish.pin, path]).join(',')
		});

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
			{#if table.columns.some(({ reference }) => reference)}<label class="mb-1 flex items-center gap-2 px-1"
					><input
						type="checkbox"
						class="accent-(--rim)"
						checked={ids}
						onchange={(event) => choose({ ids: event.currentTarget.checked ? 'yes' : null })}
					/>Ids instead of names</label
				>{/if}
			{#if hasGroups}<label class="mb-1 flex items-center gap-2 border-b border-line px-1 pb-2"
					><input
						type="checkbox"
						class="accent-(--rim)"
						checked={wish.grouped}
						onchange={(event) => choose({ grouped: event.currentTarget.checked ? 'yes' : null })}
					/>In the groups of the field guide</label
				>{/if}
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
						<button
							class="rounded p-0.5 {wish.pin.includes(path) ? 'bg-rim text-porcelain' : 'text-steam'}"
							aria-pressed={wish.pin.includes(path)}
							aria-label="Keep {titleOf(path)} in sight"
							title="Keep it beside the name"
							onclick={() => pin(path)}><Pin size={13} /></button
						>
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
				<button class="press" onclick={() => choose({ cols: null, pin: null, grouped: null, fold: null })}
					>As in the field guide</button
				>
			</p>
		</Popover.Content>
	</Popover.Portal>
</Popover.Root>
