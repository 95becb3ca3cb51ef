<script lang="ts">
	import { goto } from '$app/navigation';
	import type { Intention } from '$core/edits';
	import type { TakeView } from '$core/views';
	import { counted, numbered } from '$core/wording';
	import { FORMS, textOfReturned, type ChangedText, type Form } from '$core/words';
	import { asked } from '$ui/frame/asked';
	import { withParameters } from '$ui/frame/address';
	import { post } from '$ui/frame/client.svelte';
	import { takesFile } from '$ui/pickers/dropped';
	import PlanDialog from '$ui/plan/PlanDialog.svelte';

	/** Texts that go out to be translated, and come back. */
	let { data } = $props();
	const give = $derived(data.give);
	const language = $derived(give?.languages.find(({ code }) => code === give.asked.to));
	const some = (count: number) => (count > 0 ? ` (${numbered(count)})` : '');
	const openSays = $derived(
		`What is missing${some(language?.missing ?? 0)}, or older than the ${give?.main} text${some(language?.stale ?? 0)}`
	);
	let form = $state<Form>('po');
	const file = $derived(
		give
			? `/p/${data.slug}/api/words?to=${encodeURIComponent(give.asked.to)}&as=${form}${give.asked.open ? '' : '&all=on'}${give.asked.mine ? '&mine=on' : ''}`
			: ''
	);
	const ask = (changes: Record<string, string | null>) =>
		void goto(withParameters(asked(), changes), { replaceState: true, keepFocus: true, noScroll: true });

	let view = $state.raw<TakeView | null>(null);
	let name = $state('');
	let fault = $state<string | null>(null);
	let busy = $state(false);
	let over = $state(false);
	/** Keys of texts that changed meanwhile and are taken all the same. */
	let chosen = $state<string[]>([]);
	let plan = $state<Intention | null>(null);

	/** Bytes of a file that can be sent in one request. */
	const MOST_BYTES = 5e6;
	/** Texts that changed meanwhile of which all is shown. */
	const MOST = 200;
	const shown = $derived(view?.changed.slice(0, MOST) ?? []);

	async function open(file: File | undefined): Promise<void> {
		if (!file) return;
		busy = true;
		fault = null;
		view = null;
		name = file.name;
		chosen = [];
		try {
			if (file.size > MOST_BYTES)
				throw new Error(
					`The file is ${Math.ceil(file.size / 1e6)} MB; the limit here is ${MOST_BYTES / 1e6} MB. Export fewer texts at a time, or use “kettle words take” in a terminal.`
				);
			const text = textOfReturned(new Uint8Array(await file.arrayBuffer()));
			view = await post<TakeView>(`/p/${data.slug}/api/words`, { text });
		} catch (error) {
			fault = (error as Error).message;
		}
		busy = false;
	}

	const toggle = (key: string) =>
		(chosen = chosen.includes(key) ? chosen.filter((one) => one !== key) : [...chosen, key]);

	const taken = $derived(
		view ? [...view.taken, ...view.changed.filter(({ key }) => chosen.includes(key))] : []
	);
	function preview() {
		if (!view) return;
		const { kind, to } = view;
		plan = {
			do: 'cells',
			kind,
			cells: taken.map(({ key, now, text }) => ({ id: key, field: to, value: text, expected: now }))
		};
	}

	/** What is said of a text that changed meanwhile, line by line. */
	const sides = ({ source, then, now, text }: ChangedText, { title, main }: TakeView): [string, string][] => [
		...(source.then !== null && source.then !== source.now
			? ([[`${main} when it was exported`, source.then]] as [string, string][])
			: []),
		[`${main} now`, source.now],
		...(then !== null && then !== now
			? ([[`${title} when it was exported`, then]] as [string, string][])
			: []),
		[`${title} now`, now],
		['In the file', text]
	];
</script>

<svelte:head><title>Translation files · Kettle Dial</title></svelte:head>
<div class="px-6 py-5">
	<p><a class="follow" href="/p/{data.slug}/words">Words</a></p>
	<h1>Translation files</h1>
	{#if !give || !language}
		<p class="plate mt-4 p-6">
			This game has no second language that is known, so there is nothing to translate into. The
			<a class="follow" href="/p/{data.slug}/guide">field guide</a> says which languages texts are in.
		</p>
	{:else}
		<div class="mt-4 grid max-w-6xl items-start gap-4 lg:grid-cols-2">
			<section class="plate p-4" aria-labelledby="give-title">
				<h2 id="give-title">Export for translators</h2>
				<p class="mt-1 text-steam">
					A file for whoever translates: each text with who uses it, how long it may be, and the other
					languages.
				</p>
				<div class="mt-3 flex flex-wrap items-center gap-x-4 gap-y-2">
					<label
						>Into <select
							class="box ml-1"
							value={give.asked.to}
							onchange={({ currentTarget }) => ask({ to: currentTarget.value })}
							>{#each give.languages as { code, title } (code)}<option value={code}>{title}</option
								>{/each}</select
						></label
					>
					<label
						>as <select class="box ml-1" bind:value={form}
							>{#each Object.entries(FORMS) as [id, { title }] (id)}<option value={id}>{title}</option
								>{/each}</select
						></label
					>
				</div>
				<fieldset class="mt-3 grid gap-1">
					<legend class="sr-only">Which texts</legend>
					<label
						><input
							type="radio"
							class="mr-2 accent-(--rim)"
							name="which"
							checked={give.asked.open}
							onchange={() => ask({ all: null })}
						/>{openSays}</label
					>
					<label
						><input
							type="radio"
							class="mr-2 accent-(--rim)"
							name="which"
							checked={!give.asked.open}
							onchange={() => ask({ all: 'on' })}
						/>Every text</label
					>
					<label class="mt-1"
						><input
							type="checkbox"
							class="mr-2 accent-(--rim)"
							checked={give.asked.mine}
							onchange={({ currentTarget }) => ask({ mine: currentTarget.checked ? 'on' : null })}
						/>Only texts that your mod adds or changes</label
					>
				</fieldset>
				<p class="mt-4 flex items-center gap-3">
					{#if give.count > 0}
						<a class="press main" href={file} download>Download</a>
						<span role="status">{counted(give.count, 'text')}</span>
					{:else}
						<span role="status"
							>{give.asked.open
								? `Nothing to translate into ${language.title}.`
								: 'Your mod has no texts yet.'}</span
						>
					{/if}
				</p>
			</section>
			<section
				class="plate p-4 {over ? 'border-copper' : ''}"
				aria-labelledby="take-title"
				{@attach takesFile(
					(file) => void open(file),
					(held) => (over = held)
				)}
			>
				<h2 id="take-title">Import translations</h2>
				<p class="mt-1 text-steam">
					The file as it came back: PO, XLIFF or CSV. Texts are found by their keys. What changed here in the
					meantime is shown and stays as it is, unless you take it.
				</p>
				<div class="mt-3 flex flex-wrap items-center gap-3">
					<label class="press">
						Choose a file…<input
							class="sr-only"
							type="file"
							accept=".po,.xlf,.xliff,.csv,.tsv,.txt"
							disabled={busy}
							onchange={({ currentTarget }) => {
								void open(currentTarget.files?.[0]);
								currentTarget.value = '';
							}}
						/>
					</label>
					<span class="text-steam">{busy ? 'Reading…' : name || 'or drop it here'}</span>
				</div>
				{#if fault}<p class="mt-3 text-scald" role="alert">{fault}</p>{/if}
				{#if view}
					<dl class="mt-3 grid grid-cols-[auto_1fr] gap-x-3" data-testid="taken">
						{#each [[view.taken.length, `new in ${view.title}`], [view.changed.length, 'changed here in the meantime'], [view.there, 'already there'], [view.empty, 'without a translation'], [view.unfinished, 'marked as not done'], [view.unknown.length, 'with a key that no text has']] as const as [count, says] (says)}
							{#if count > 0}<dt class="text-right font-mono">{numbered(count)}</dt>
								<dd>{says}</dd>{/if}
						{/each}
					</dl>
					<p class="mt-4 flex items-center gap-3">
						<button class="press main" disabled={taken.length === 0} onclick={preview}>Preview changes</button
						>
						<span role="status"
							>{taken.length === 0
								? 'There is nothing to import.'
								: `${counted(taken.length, 'text')} to import`}</span
						>
					</p>
				{/if}
			</section>
		</div>
		{#if view && view.faults.length + view.unknown.length > 0}
			<section class="plate mt-4 max-w-6xl p-4" aria-labelledby="left-title">
				<h2 id="left-title">Left out</h2>
				<ul class="mt-1">
					{#each view.faults.slice(0, MOST) as { line, message } (`${line} ${message}`)}<li>
							Line {line}: {message}
						</li>{/each}
					{#each view.unknown.slice(0, MOST) as { key, line } (`${line} ${key}`)}<li>
							Line {line}: no text has the key <span class="font-mono">{key}</span>.
						</li>{/each}
				</ul>
			</section>
		{/if}
		{#if view && view.changed.length > 0}
			<section class="plate mt-4 max-w-6xl p-4" aria-labelledby="changed-title">
				<div class="flex flex-wrap items-baseline gap-3">
					<h2 id="changed-title">Changed here in the meantime</h2>
					<button
						class="follow"
						onclick={() =>
							(chosen = chosen.length === view!.changed.length ? [] : view!.changed.map(({ key }) => key))}
						>{chosen.length === view.changed.length ? 'Take none' : 'Take all'}</button
					>
				</div>
				{#each shown as text (text.key)}
					<div class="mt-3 border-t border-line pt-2" data-testid="changed-text">
						<label class="font-semibold"
							><input
								type="checkbox"
								class="mr-2 accent-(--copper)"
								checked={chosen.includes(text.key)}
								onchange={() => toggle(text.key)}
							/><span class="font-mono">{text.key}</span>: take what is in the file</label
						>
						<dl class="mt-1 grid grid-cols-[14rem_1fr] gap-x-3">
							{#each sides(text, view) as [says, value] (says)}
								<dt class="text-steam">{says}</dt>
								<dd class="break-words whitespace-pre-wrap {says === 'In the file' ? 'text-copper' : ''}">
									{#if value === ''}<span class="text-steam">nothing</span>{:else}{value}{/if}
								</dd>
							{/each}
						</dl>
					</div>
				{/each}
				{#if view.changed.length > MOST}<p class="mt-3 text-steam">
						{counted(view.changed.length - MOST, 'more text')} not shown.
					</p>{/if}
			</section>
		{/if}
	{/if}
</div>
<PlanDialog slug={data.slug} bind:intention={plan} leadsTo={`/p/${data.slug}/words`} />
