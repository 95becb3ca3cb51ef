<script lang="ts">
	import type { ClashesPage, ClashView } from '$core/views';
	import { fileAddress } from '../frame/address';

	/** Something that several layers change: what each says, who wins, and what is chosen instead. */
	let {
		slug,
		clash,
		layers,
		chosen,
		choose
	}: {
		slug: string;
		clash: ClashView;
		layers: ClashesPage['layers'];
		/** The value that is chosen; undefined for none. */
		chosen: string | undefined;
		choose: (value: string | undefined) => void;
	} = $props();

	const WAYS = { sum: 'Both changes', larger: 'The larger', smaller: 'The smaller', joined: 'Both lists' };
	const COLOURS: Record<string, string> = { me: 'text-copper', others: 'text-plum' };
	const layerOf = (id: string) => layers.find((layer) => layer.id === id)!;
	const name = $derived(`${clash.name}, ${clash.fieldTitle}`);
	const group = $derived(`${clash.kind} ${clash.record} ${clash.field}`);
	/** What can be chosen: each value once, with where it is from. */
	const offers = $derived.by(() => {
		const found: { value: string; said: string[]; way: string | null; copied: boolean }[] = [];
		for (const { layer, value, copied } of clash.values) {
			if (value === null) continue;
			const known = found.find((one) => one.value === value);
			if (known) known.said.push(layerOf(layer).title);
			else found.push({ value, said: [layerOf(layer).title], way: null, copied });
		}
		for (const { by, value } of clash.ways)
			if (!found.some((one) => one.value === value))
				found.push({ value, said: [], way: WAYS[by], copied: false });
		return found;
	});
	let own = $state('');
	const isOwn = $derived(chosen !== undefined && !offers.some(({ value }) => value === chosen));
</script>

<li class="plate px-4 py-3" aria-label={name}>
	<p class="flex flex-wrap items-baseline gap-x-3">
		{#if clash.kind}
			<a
				class="follow font-semibold"
				href="/p/{slug}/tables/{encodeURIComponent(clash.kind)}?ticket={encodeURIComponent(
					`${clash.kind}/${clash.record}`
				)}">{clash.name}</a
			>
			<span>{clash.fieldTitle}</span>
			<span class="text-[12px] text-steam"
				>{clash.kindTitle}{clash.base === null
					? ', not in the game'
					: `, the game has ${clash.base || 'nothing'}`}</span
			>
		{:else}<code class="font-semibold">{clash.record}</code><span class="text-[12px] text-steam"
				>not data</span
			>{/if}
		{#if clash.breaks}<span class="text-[12px] text-scald">has a snag</span>{/if}
		{#if clash.settled}<span class="text-[12px] text-verdigris">your mod decides</span>{/if}
	</p>
	<ol class="mt-1 flex flex-wrap gap-x-5 gap-y-1 text-[13px]" aria-label="In the order of loading">
		{#each clash.values as one (one.layer)}
			<li class="flex items-baseline gap-1.5">
				<a
					class="follow {COLOURS[layerOf(one.layer).owner] ?? ''}"
					href={fileAddress(slug, one.layer, one.path, one.line)}>{layerOf(one.layer).title}</a
				>
				<span class="font-mono {one.layer === clash.wins ? 'font-bold' : ''}">{one.value ?? 'nothing'}</span>
				{#if one.copied}<span class="text-[12px] text-steam">as the game has it</span>{/if}
				{#if one.layer === clash.wins}<span class="text-[12px] text-steam">wins</span>{/if}
			</li>
		{/each}
	</ol>
	{#if clash.kind}
		<fieldset class="mt-2 flex flex-wrap items-center gap-x-4 gap-y-1 text-[13px]">
			<legend class="sr-only">{name}: what counts</legend>
			{#each offers as offer (offer.value)}
				<label class="flex items-center gap-1.5">
					<input
						type="radio"
						class="accent-(--copper)"
						name={group}
						checked={chosen === offer.value}
						onchange={() => choose(offer.value)}
					/>
					<span class="font-mono">{offer.value === '' ? 'nothing' : offer.value}</span>
					<span class="text-steam"
						>{offer.way ?? offer.said.join(', ')}{offer.value === clash.rule
							? ' (the only change)'
							: ''}</span
					>
				</label>
			{/each}
			<label class="flex items-center gap-1.5">
				<input
					type="radio"
					class="accent-(--copper)"
					name={group}
					checked={isOwn}
					onchange={() => choose(own)}
				/>
				<span class="text-steam">My own</span>
				<input
					class="box h-7 w-28 font-mono"
					aria-label="{name}: my own value"
					bind:value={own}
					oninput={() => choose(own)}
				/>
			</label>
			{#if chosen !== undefined}<button class="follow" onclick={() => choose(undefined)}>Clear choice</button
				>{/if}
		</fieldset>
	{/if}
</li>
