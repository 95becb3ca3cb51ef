<script lang="ts">
	import type { Choice } from '$core/carry';
	import type { CarryCard } from '$core/views';
	import Scale from '../charts/Scale.svelte';

	/** One thing of my mod on a new version of the game: what each side says, and what is to count. */
	let { slug, item, choose }: { slug: string; item: CarryCard; choose: (choice: Choice | null) => void } =
		$props();

	const name = $derived(item.fieldTitle === null ? item.name : `${item.name}, ${item.fieldTitle}`);
	/** What could not be written, or is no file of data, has nothing to choose. */
	const decidable = $derived(item.asks !== null);
	const number = (value: string | null) =>
		value === null || value.trim() === '' || Number.isNaN(Number(value)) ? null : Number(value);
	const said = (value: string | null) => (value === null || value === '' ? 'nothing' : value);
	interface Offer {
		choice: Choice;
		value: string | null;
		words: string;
	}
	const offers = $derived.by((): Offer[] => {
		const gone = item.asks === 'homeless';
		const list: Offer[] = [];
		if (gone) {
			for (const { kind, value, kindTitle, fits } of item.candidates)
				if (kind !== null && fits)
					list.push({
						choice: { place: { kind, id: value } },
						value,
						words:
							item.field === null ? `Move it to this ${(kindTitle ?? kind).toLowerCase()}` : 'Use this one'
					});
			// What a table has no column for cannot be kept.
			if (item.field === null || item.result !== null)
				list.push({
					choice: 'mine',
					value: null,
					words: item.field === null ? 'Keep it as my own' : 'Keep mine'
				});
			if (!item.key.includes('→')) list.push({ choice: 'let-go', value: null, words: 'Drop it' });
			return list;
		}
		const values = item.field !== null;
		list.push({ choice: 'mine', value: values ? item.mine : null, words: 'Mine' });
		list.push({ choice: 'theirs', value: values ? item.new : null, words: 'The new version’s' });
		const { top, mine, new: fresh } = item;
		if (top !== null && top !== mine && top !== fresh)
			list.push({ choice: 'on-top', value: top, words: 'My change on top of it' });
		return list;
	});
	/** What it may be now, and cannot be chosen here. */
	const others = $derived(item.candidates.filter(({ fits }) => !fits));
	const isChosen = (choice: Choice) => JSON.stringify(item.choice) === JSON.stringify(choice);
	const ownValue = $derived(
		typeof item.choice === 'object' && item.choice && 'value' in item.choice ? item.choice.value : ''
	);
</script>

<li class="plate px-4 py-2.5" aria-label={name}>
	<p class="flex flex-wrap items-baseline gap-x-3">
		{#if item.kind}
			<a
				class="follow font-semibold"
				href="/p/{slug}/tables/{encodeURIComponent(item.kind)}?ticket={encodeURIComponent(
					`${item.kind}/${item.from ?? item.record}`
				)}">{item.name}</a
			>
			{#if item.fieldTitle !== null}<span>{item.fieldTitle}</span>{/if}
			<span class="text-[12px] text-steam"
				>{item.kindTitle}{item.from === null ? '' : `, was ${item.from}`}</span
			>
		{:else}<code class="font-semibold">{item.record}</code>{#if item.from !== null}<span
					class="text-[12px] text-steam">was {item.from}</span
				>{/if}{/if}
		<span
			class="text-[12px] {item.what === 'undecided' || item.what === 'homeless'
				? 'text-saffron'
				: 'text-steam'}">{item.why}</span
		>
	</p>
	{#if item.field !== null && (item.old !== null || item.new !== null || item.mine !== null)}
		<dl class="mt-1 flex flex-wrap gap-x-5 text-[13px]">
			{#each [['before', item.old, ''], ['now', item.new, ''], ['mine', item.mine, 'text-copper']] as [title, value, colour] (title)}
				<div class="flex items-baseline gap-1.5">
					<dt class="text-steam">{title}</dt>
					<dd class="font-mono {colour}">{said(value!)}</dd>
				</div>
			{/each}
			<div class="flex items-baseline gap-1.5">
				<dt class="text-steam">becomes</dt>
				<dd class="font-mono font-bold">{said(item.result)}</dd>
			</div>
			{#if item.spread}<Scale
					spread={item.spread}
					before={number(item.old)}
					base={number(item.new)}
					mine={number(item.result)}
					title={item.fieldTitle ?? item.field}
					unit={item.unit}
				/>{/if}
		</dl>
	{/if}
	{#if decidable}
		<fieldset class="mt-1.5 flex flex-wrap items-center gap-x-4 gap-y-1 text-[13px]">
			<legend class="sr-only">{name}: what happens to it</legend>
			{#each offers as offer (JSON.stringify(offer.choice))}
				<label class="flex items-center gap-1.5">
					<input
						type="radio"
						class="accent-(--copper)"
						name={item.key}
						checked={isChosen(offer.choice)}
						onchange={() => choose(offer.choice)}
					/>
					{#if offer.value !== null}<span class="font-mono">{said(offer.value)}</span>{/if}
					<span class="text-steam">{offer.words}</span>
				</label>
			{/each}
			{#if item.field !== null && item.asks === 'undecided' && !item.list}
				<label class="flex items-center gap-1.5">
					<span class="text-steam">My own</span>
					<input
						class="box h-7 w-28 font-mono"
						aria-label="{name}: another value"
						value={ownValue}
						onchange={(event) => choose({ value: event.currentTarget.value })}
					/>
				</label>
			{/if}
			{#if item.choice !== null}<button class="follow" onclick={() => choose(null)}>Clear choice</button>{/if}
		</fieldset>
	{/if}
	{#if others.length > 0}
		<p class="mt-1 text-[12px] text-steam">
			Nearest: {others
				.map(({ kindTitle, value, because }) => `${kindTitle ? `${kindTitle} ` : ''}${value} (${because})`)
				.join(', ')}
		</p>
	{/if}
</li>
