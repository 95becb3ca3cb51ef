<script lang="ts">
	import { refresh } from '$ui/frame/refresh';
	import { post, say } from '$ui/frame/client.svelte';

	/** Who the mod is: what players and other mods see of it. */
	let { data } = $props();
	const slug = $derived(data.project.slug);

	const texts = ['name', 'title', 'version', 'gameVersion', 'description'] as const;
	type Text = (typeof texts)[number];
	/** What was typed over what is saved. */
	let typed = $state<Partial<Record<Text, string>>>({});
	let requires = $state<string[] | null>(null);
	let after = $state<string[] | null>(null);
	let notWith = $state<string[] | null>(null);
	let fault = $state('');
	let busy = $state(false);
	const value = (field: Text) => typed[field] ?? data.identity[field];

	/** Mods that can be chosen: those of the stack, and whatever is named already. */
	const known = (chosen: string[]) => [
		...data.others,
		...chosen
			.filter((name) => !data.others.some((other) => other.name === name))
			.map((name) => ({ name, title: `${name}, not in this project` }))
	];
	const lists = $derived([
		{
			legend: 'Needs',
			about: 'Without these mods yours cannot work.',
			chosen: requires ?? data.identity.requires,
			put: (next: string[]) => (requires = next)
		},
		{
			legend: 'Loads after',
			about: 'Where players have these mods, yours is loaded later.',
			chosen: after ?? data.identity.after,
			put: (next: string[]) => (after = next)
		},
		{
			legend: 'Not together with',
			about: 'Players cannot use these mods together with yours.',
			chosen: notWith ?? data.identity.notWith,
			put: (next: string[]) => (notWith = next)
		}
	]);

	async function save(event: SubmitEvent) {
		event.preventDefault();
		busy = true;
		try {
			const { said } = await post<{ said: string }>(`/p/${slug}/api/mod`, {
				...Object.fromEntries(texts.map((field) => [field, value(field)])),
				requires: $state.snapshot(lists[0]!.chosen),
				after: $state.snapshot(lists[1]!.chosen),
				notWith: $state.snapshot(lists[2]!.chosen)
			});
			fault = '';
			await refresh();
			[typed, requires, after, notWith] = [{}, null, null, null];
			say(said, { undo: data.file !== null });
		} catch (error) {
			fault = (error as Error).message;
		}
		busy = false;
	}
</script>

{#snippet text(label: string, field: Text, about: string, required = false)}
	<div>
		<label class="block"
			><span class="font-semibold">{label}</span><input
				class="box mt-0.5 block w-full {field === 'name' ? 'font-mono' : ''}"
				bind:value={() => value(field), (next) => (typed[field] = next)}
				{required}
				maxlength="200"
				aria-describedby="about-{field}"
			/></label
		>
		<p id="about-{field}" class="text-[12px] text-steam">{about}</p>
	</div>
{/snippet}

<svelte:head><title>Your mod · Kettle Dial</title></svelte:head>
<div class="mx-auto max-w-3xl px-6 py-6">
	<h1>Your mod</h1>
	<p class="mt-1 text-steam">
		{#if data.file}
			Mods of this game are identified by <code>{data.file}</code>.
			{data.written
				? 'Saving changes that file; it can be undone like every other change.'
				: 'Saving creates that file.'}
		{:else}
			These details are used for the pack and its folder. If mods of this game are identified by a file of
			their own, name that file in the <a class="follow" href="/p/{slug}/guide">field guide</a> as
			<code>identity</code>.
		{/if}
	</p>
	<p class="mt-2">
		<a class="follow" href="/p/{slug}/options">Optional parts</a>
		<span class="text-steam">that players can switch on or leave out</span>
	</p>
	<form class="plate mt-4 space-y-4 p-5" onsubmit={save} aria-label="Your mod">
		<div class="grid grid-cols-2 gap-4">
			{@render text('Title', 'title', 'What players see.', true)}
			{@render text(
				'Name of its folder',
				'name',
				'Letters, digits, “-” and “_”; stays the same from version to version.',
				true
			)}
			{@render text('Version', 'version', 'Raise it with every release.')}
			{@render text(
				'Made for game version',
				'gameVersion',
				data.project.gameVersion
					? `This project’s game is ${data.project.gameVersion}.`
					: 'The game does not say its version.'
			)}
		</div>
		<div>
			<label class="block"
				><span class="font-semibold">Description</span><textarea
					class="box mt-0.5 block h-24 w-full"
					maxlength="5000"
					bind:value={() => value('description'), (next) => (typed.description = next)}></textarea></label
			>
			<p class="text-[12px] text-steam">What it changes, for players who look for it.</p>
		</div>
		<div class="grid grid-cols-2 gap-4">
			{#each lists as list (list.legend)}
				<fieldset>
					<legend class="font-semibold">{list.legend}</legend>
					<p class="text-[12px] text-steam">{list.about}</p>
					{#each known(list.chosen) as other (other.name)}
						<label class="flex items-center gap-2"
							><input
								type="checkbox"
								class="accent-(--rim)"
								checked={list.chosen.includes(other.name)}
								onchange={(event) =>
									list.put(
										event.currentTarget.checked
											? [...list.chosen, other.name]
											: list.chosen.filter((name) => name !== other.name)
									)}
							/>{other.title}</label
						>
					{:else}
						<p class="text-steam">
							No other mod is in this project. <a class="follow" href="/p/{slug}/setup"
								>Add one under Set up</a
							>
						</p>
					{/each}
				</fieldset>
			{/each}
		</div>
		{#if fault}<p class="rounded-lg border border-scald px-3 py-2 text-scald" role="alert">{fault}</p>{/if}
		<button class="press main" disabled={busy}>{busy ? 'Saving…' : 'Save'}</button>
	</form>
</div>
