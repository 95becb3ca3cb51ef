<script lang="ts">
	import { refresh } from '$ui/frame/refresh';
	import { counted } from '$core/wording';
	import type { ModOption } from '$core/options';
	import type { OptionsChecked, OptionView } from '$core/views';
	import { post, say } from '$ui/frame/client.svelte';
	import OptionCard from '$ui/project/OptionCard.svelte';
	import OptionFindings from '$ui/project/OptionFindings.svelte';

	/** Parts of my mod that players may have or not. */
	let { data } = $props();
	const slug = $derived(data.slug);
	const address = $derived(`/p/${slug}/api/options`);

	let title = $state('');
	let busy = $state(false);
	/** Raised where a change was refused, so that the fields show again what is saved. */
	let round = $state(0);
	let checked = $state<OptionsChecked | null>(null);

	/** A call that changes something; its message is shown. Gives whether it went well. */
	async function ask(body: object, undo = false): Promise<boolean> {
		busy = true;
		checked = null;
		try {
			const { said } = await post<{ said: string }>(address, body);
			say(said, { undo });
			await refresh();
			return true;
		} catch (error) {
			say((error as Error).message, { bad: true });
			await refresh();
			round++;
			return false;
		} finally {
			busy = false;
		}
	}

	const plain = (options: readonly OptionView[]): ModOption[] =>
		options.map(({ cells, things: _, ...option }) => ({
			...option,
			cells: cells.map(({ kind, id, field, value }) => ({ kind, id, field, value }))
		}));
	const isSame = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);
	/** What was saved and is not on the page yet. */
	let known = $state.raw<ModOption[] | null>(null);
	$effect(() => {
		if (known && isSame(plain(data.options), known)) known = null;
	});
	/** What there was before the last change took something away. */
	let before = $state.raw<ModOption[] | null>(null);
	const removed = $derived.by(() => {
		const gone = before?.find(({ id }) => !data.options.some((one) => one.id === id));
		return gone ? `“${gone.title}” was removed.` : 'The value was removed from the option.';
	});
	let last: Promise<boolean> = Promise.resolve(true);

	/** Saves a change of the options. Changes follow each other: each is made of what the one before left. */
	function save(edit: (now: readonly ModOption[]) => ModOption[]): Promise<boolean> {
		last = last.then(async () => {
			const was = known ?? plain(data.options);
			const options = edit(was);
			const done = await ask({ do: 'save', options, was });
			const size = (list: readonly ModOption[]) =>
				list.length + list.reduce((sum, { cells, files }) => sum + cells.length + files.length, 0);
			if (done) before = size(options) < size(was) ? was : null;
			known = done && !isSame(plain(data.options), options) ? options : null;
			return done;
		});
		return last;
	}
	function bringBack(): void {
		const options = before;
		if (options) void save(() => options);
	}

	async function add(event: SubmitEvent): Promise<void> {
		event.preventDefault();
		const stem =
			title
				.toLowerCase()
				.replace(/[^a-z0-9]+/g, '_')
				.replace(/^_+|_+$/g, '')
				.slice(0, 36) || 'option';
		let id = stem;
		for (let nth = 2; data.options.some((one) => one.id === id); nth++) id = `${stem}_${nth}`;
		const fresh: ModOption = {
			id,
			title: title.trim(),
			about: '',
			oneOf: null,
			standard: false,
			cells: [],
			files: []
		};
		if (await save((now) => [...now, fresh])) title = '';
	}

	async function check(): Promise<void> {
		busy = true;
		try {
			checked = await post<OptionsChecked>(address, { do: 'check' });
		} catch (error) {
			say((error as Error).message, { bad: true });
		}
		busy = false;
	}
</script>

<svelte:head><title>Optional parts · Kettle Dial</title></svelte:head>
<div class="mx-auto max-w-5xl px-6 py-5">
	<p class="text-steam"><a class="follow" href="/p/{slug}/mod">Your mod</a></p>
	<h1>Optional parts</h1>
	<p class="mt-1 max-w-3xl text-steam">
		Changes that players can switch on or leave out. Each option becomes a small mod of its own, which is
		loaded after yours. Of the options with the same “One of”, players choose one.
	</p>
	<form class="mt-4 flex flex-wrap items-end gap-3" onsubmit={(event) => void add(event)}>
		<label
			>New option<input class="box mt-0.5 block w-72" bind:value={title} required maxlength="200" /></label
		>
		<button class="press" disabled={busy}>Add option</button>
		{#if data.options.length > 0}
			<button type="button" class="press main" disabled={busy} onclick={() => void check()}
				>Check {counted(data.combinations, 'combination')}</button
			>
			<a class="press" href={address} download>Download with options</a>
		{/if}
	</form>
	{#if before}
		<p class="mt-3 flex items-center gap-3" role="status">
			{removed}<button class="press" disabled={busy} onclick={bringBack}>Bring it back</button>
		</p>
	{/if}
	{#if checked}<OptionFindings {slug} {checked} />{/if}
	{#if data.options.length === 0}
		<div class="plate mt-4 p-6">
			<p class="font-semibold">Your mod has no optional parts.</p>
			<p class="text-steam">
				Add one, then move changes of your mod into it. Until then, every player gets the whole mod.
			</p>
		</div>
	{/if}
	{#key round}<ul class="mt-4 space-y-3">
			{#each data.options as option (option.id)}
				<OptionCard
					{slug}
					{option}
					{busy}
					page={data}
					groups={[...new Set(data.options.flatMap(({ oneOf }) => oneOf ?? []))]}
					change={(edit) => save((now) => now.map((one) => (one.id === option.id ? edit(one) : one)))}
					remove={() => save((now) => now.filter(({ id }) => id !== option.id))}
					move={(way, what) => ask({ do: 'move', way, option: option.id, ...what }, true)}
				/>
			{/each}
		</ul>{/key}
</div>
