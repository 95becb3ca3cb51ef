<script lang="ts">
	import { changeGuide } from '../guide/change';

	/** Writes a scenario into the field guide. */
	let {
		slug,
		kinds,
		first,
		done
	}: {
		slug: string;
		kinds: { kind: string; title: string }[];
		first: boolean;
		done: (name: string) => void;
	} = $props();

	let title = $state('');
	let asks = $state('');
	let by = $state<'formula' | 'played'>('formula');
	let kind = $state('');
	let formula = $state('');
	let words = $state('');
	let inputs = $state<{ name: string; kind: string }[]>([]);
	let busy = $state(false);

	const nameOf = (text: string) =>
		text
			.toLowerCase()
			.replace(/[^\p{L}\p{N}]+/gu, '-')
			.replace(/^-|-$/g, '') || 'scenario';

	async function save(event: SubmitEvent): Promise<void> {
		event.preventDefault();
		busy = true;
		const name = nameOf(title);
		const about = { title, ...(asks.trim() ? { asks: asks.trim() } : {}) };
		const scenario =
			by === 'formula'
				? { ...about, kind, formula }
				: {
						...about,
						arguments: words.split('\n').filter((word) => word !== ''),
						inputs: Object.fromEntries(inputs.map((one) => [one.name.trim(), { kind: one.kind }]))
					};
		if (await changeGuide(slug, { do: 'scenario', name, scenario })) done(name);
		busy = false;
	}
</script>

<form class="plate mt-4 p-5" onsubmit={save} aria-label="New scenario">
	{#if first}<p class="mb-3 text-steam">
			The field guide has no scenario yet. One is a formula over the fields of a record, or a program that
			plays from a seed and prints what came of it.
		</p>{/if}
	<div class="flex flex-wrap gap-x-6 gap-y-3">
		<label
			><span class="block font-semibold">Title</span><input
				class="box w-72"
				required
				maxlength="200"
				placeholder="What a cart earns a day"
				bind:value={title}
			/></label
		>
		<label class="grow"
			><span class="block font-semibold"
				>Question <span class="font-normal text-steam">if you like</span></span
			><input class="box w-full" maxlength="1000" bind:value={asks} /></label
		>
	</div>
	<fieldset class="mt-3">
		<legend class="sr-only">How it is answered</legend>
		<label class="mr-5 inline-flex items-center gap-2"
			><input type="radio" class="accent-(--rim)" value="formula" bind:group={by} />By a formula</label
		>
		<label class="inline-flex items-center gap-2"
			><input type="radio" class="accent-(--rim)" value="played" bind:group={by} />By a program that plays it</label
		>
	</fieldset>
	{#if by === 'formula'}
		<div class="mt-3 flex flex-wrap items-end gap-x-4 gap-y-3">
			<label
				><span class="block font-semibold">Records</span><select class="box" required bind:value={kind}>
					<option value="" disabled>Choose a kind</option>
					{#each kinds as one (one.kind)}<option value={one.kind}>{one.title}</option>{/each}
				</select></label
			>
			<label class="grow"
				><span class="block font-semibold">Formula</span><input
					class="box w-full font-mono"
					required
					maxlength="2000"
					placeholder="load * speed - fee"
					bind:value={formula}
				/></label
			>
		</div>
	{:else}
		<label class="mt-3 block"
			><span class="block font-semibold">Arguments that follow those that start the game, one a line</span
			><textarea
				class="box w-full font-mono"
				rows="5"
				required
				placeholder={'play\n{cart}\n--times\n{times}\n--seed\n{seed}'}
				bind:value={words}></textarea></label
		>
		<p class="text-[13px] text-steam">
			<code>{'{times}'}</code> and <code>{'{seed}'}</code> are filled in, and the records below by their
			names. For each time it prints a line of JSON with its <code>seed</code> and numbers.
		</p>
		{#each inputs as one, nth (nth)}
			<p class="mt-2 flex items-center gap-2">
				<input
					class="box w-40 font-mono"
					aria-label="Name in the arguments"
					placeholder="cart"
					required
					pattern="[\w\-]+"
					bind:value={one.name}
				/>
				is a
				<select class="box" aria-label="Kind of {one.name || 'it'}" required bind:value={one.kind}>
					<option value="" disabled>Choose a kind</option>
					{#each kinds as other (other.kind)}<option value={other.kind}>{other.title}</option>{/each}
				</select>
				<button type="button" class="press" onclick={() => inputs.splice(nth, 1)}>Remove</button>
			</p>
		{/each}
		<p class="mt-2">
			<button type="button" class="press" onclick={() => inputs.push({ name: '', kind: '' })}
				>Add a record</button
			>
		</p>
	{/if}
	<p class="mt-4"><button class="press main" disabled={busy}>Save the scenario</button></p>
</form>
