<script lang="ts">
	// How records of later layers come over those below: what the game does with two of one id, marks, nothings and lists.
	import type { ListJoin } from '$core/guide';
	import type { GuideKindView } from '$core/views';
	import { changeGuide } from './change';

	let { slug, about }: { slug: string; about: GuideKindView } = $props();
	const rules = $derived(about.rules);
	type Joins = Record<string, Partial<ListJoin>>;
	/** What was chosen or typed and the page does not have yet: the next change is made of all before it. */
	let mine = $state<{ mark?: { field: string; is: string }; joins?: Joins }>({});
	let open = 0;
	const mark = $derived(mine.mark ?? { field: rules.out?.field ?? '', is: rules.out?.is ?? '' });
	const joins = $derived<Joins>(mine.joins ?? rules.joins);
	async function say(statements: Record<string, unknown>) {
		open++;
		await changeGuide(slug, { do: 'say', kind: about.kind, statements });
		if (--open > 0) return;
		// The page has all that was said; half of a mark is still only here.
		mine = mine.mark?.field && !mine.mark.is ? { mark: mine.mark } : {};
	}
	/** A mark is said by a field and a value together; each may be typed first. */
	function marked(next: Partial<typeof mark>) {
		mine.mark = { ...mark, ...next };
		if (mark.field && mark.is) void say({ out: { ...mark } });
		else if (rules.out) void say({ out: null });
	}
	/** What is so where nothing is said: it is not written. */
	const USUAL: Record<string, string> = { id: 'id', second: 'last', out: '' };
	function joined(list: string, next: Partial<ListJoin> | null) {
		const { [list]: own, ...rest } = joins;
		const kept = Object.entries({ ...own, ...next }).filter(([name, value]) => value !== USUAL[name]);
		mine.joins = next ? { ...rest, [list]: Object.fromEntries(kept) as Partial<ListJoin> } : rest;
		void say({ joins: Object.keys(joins).length === 0 ? null : joins });
	}
</script>

<section class="mt-2 max-w-3xl" aria-label="How mods are merged">
	<div class="grid grid-cols-[auto_1fr] items-center gap-x-3 gap-y-1 text-[12px]">
		<label for="second">Two records with the same id</label>
		<select
			id="second"
			class="box w-fit"
			value={rules.second}
			onchange={(event) => void say({ second: event.currentTarget.value === 'first' ? 'first' : null })}
		>
			<option value="last">the later layer’s counts</option>
			<option value="first">the first one counts</option>
		</select>
		<span>A record is removed when</span>
		<span class="flex items-center gap-2">
			<select
				class="box"
				aria-label="Field that marks a removed record"
				value={mark.field}
				onchange={(event) => marked({ field: event.currentTarget.value })}
			>
				<option value="">no field marks it</option>
				{#each about.fields as { path, title } (path)}
					{#if !path.includes('[')}<option value={path}>{title ?? path}</option>{/if}
				{/each}
			</select>
			{#if mark.field}
				is
				<input
					class="box w-28"
					aria-label="Value that marks a removed record"
					value={mark.is}
					onchange={(event) => marked({ is: event.currentTarget.value.trim() })}
				/>
			{/if}
		</span>
		{#if about.merge === 'field'}
			<label for="nulls">A field that is <code>null</code></label>
			<select
				id="nulls"
				class="box w-fit"
				value={rules.nulls}
				onchange={(event) => void say({ nulls: event.currentTarget.value === 'removes' ? 'removes' : null })}
			>
				<option value="value">has that value</option>
				<option value="removes">is removed</option>
			</select>
			{#each rules.lists as list (list)}
				{@const join = joins[list]}
				<label for="join-{list}">The list <code>{list}</code></label>
				<span class="flex flex-wrap items-center gap-2">
					<select
						id="join-{list}"
						class="box"
						value={join?.same ?? ''}
						onchange={(event) =>
							joined(
								list,
								event.currentTarget.value ? { same: event.currentTarget.value as ListJoin['same'] } : null
							)}
					>
						<option value="">replaces the one below</option>
						<option value="value">is joined with it; items with the same value are the same</option>
						<option value="id">is joined with it; items with the same id are the same</option>
						<option value="position">is joined with it; items in the same place are the same</option>
					</select>
					{#if join}
						{#if join.same === 'id'}
							<input
								class="box w-24"
								aria-label="Field with the id of an item of {list}"
								placeholder="id field"
								value={join.id ?? 'id'}
								onchange={(event) => joined(list, { id: event.currentTarget.value.trim() || 'id' })}
							/>
						{/if}
						<select
							class="box"
							aria-label="Of two items of {list} that are the same"
							value={join.second ?? 'last'}
							onchange={(event) => joined(list, { second: event.currentTarget.value as ListJoin['second'] })}
						>
							<option value="last">the later one counts</option>
							<option value="first">the first one counts</option>
							<option value="both">both count</option>
						</select>
						<input
							class="box w-40"
							aria-label="Mark of an item of {list} that is to be removed"
							placeholder="removal mark, such as -"
							title="What stands before an item, or its id, that is to be removed from the list below"
							value={join.out ?? ''}
							onchange={(event) => joined(list, { out: event.currentTarget.value.trim() })}
						/>
					{/if}
				</span>
			{/each}
		{/if}
	</div>
</section>
