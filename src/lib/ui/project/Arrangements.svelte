<script lang="ts">
	/** Named arrangements: which layers are loaded, and in which order. */
	interface Layer {
		id: string;
		title: string;
		owner: string;
		on: boolean;
	}
	let {
		layers,
		arrangements,
		keep,
		forget,
		arrange
	}: {
		layers: Layer[];
		arrangements: { name: string; layers: { layer: string; on: boolean }[] }[];
		keep: (name: string) => Promise<void>;
		forget: (name: string) => Promise<void>;
		/** Given the ids of the layers as they would be loaded, from the game on. */
		arrange: (name: string, then: string[]) => void;
	} = $props();

	let name = $state('');
	type Arrangement = (typeof arrangements)[number];
	const others = $derived(layers.filter(({ owner }) => owner === 'others'));
	/** The layers of others as an arrangement has them; those that it does not know behind it, as they are. */
	const placed = ({ layers: list }: Arrangement) => [
		...list.flatMap(({ layer, on }) => {
			const found = others.find(({ id }) => id === layer);
			return found ? [{ ...found, on }] : [];
		}),
		...others.filter(({ id }) => !list.some(({ layer }) => layer === id))
	];
	const isNow = (one: Arrangement) =>
		JSON.stringify(placed(one).map(({ id, on }) => [id, on])) ===
		JSON.stringify(others.map(({ id, on }) => [id, on]));
	const thenOf = (one: Arrangement) => [
		...layers.filter(({ owner }) => owner === 'game'),
		...placed(one).filter(({ on }) => on),
		...layers.filter(({ owner }) => owner === 'me')
	];
</script>

<section class="mt-8" aria-label="Arrangements">
	<h2>Arrangements</h2>
	<p class="mt-1 text-steam">
		Save which layers are loaded, and in which order, under a name, and go back to it later.
	</p>
	<ul class="mt-2 space-y-1">
		{#each arrangements as one (one.name)}
			<li class="flex flex-wrap items-center gap-3" aria-label={one.name}>
				<span class="font-semibold">{one.name}</span>
				<span class="text-steam"
					>{placed(one)
						.map(({ title, on }) => (on ? title : `${title} (off)`))
						.join(', ')}</span
				>
				{#if isNow(one)}<span class="text-verdigris">in use</span>
				{:else}<button
						class="press"
						onclick={() =>
							arrange(
								one.name,
								thenOf(one).map(({ id }) => id)
							)}>Go back to it</button
					>{/if}
				<button class="press slight" onclick={() => void forget(one.name)}>Remove</button>
			</li>
		{/each}
	</ul>
	<form
		class="mt-2 flex items-end gap-3"
		onsubmit={(event) => {
			event.preventDefault();
			void keep(name.trim()).then(() => (name = ''));
		}}
	>
		<label>Name<input class="box mt-0.5 block w-64" bind:value={name} required maxlength="80" /></label>
		<button class="press">Save what is loaded now</button>
	</form>
</section>
