<script lang="ts">
	import { onMount, untrack } from 'svelte';
	import { goto } from '$app/navigation';
	import { refresh } from '../frame/refresh';
	import { page } from '$app/state';
	import type { Intention } from '$core/edits';
	import type { TextPage } from '$core/views';
	import { counted } from '$core/wording';
	import { fileAddress, recordAddress } from '../frame/address';
	import { applyIntention, say } from '../frame/client.svelte';
	import { onAction } from '../frame/keys';
	import PlanDialog from '../plan/PlanDialog.svelte';
	import type { RecordReading, TextReading } from './reading';
	import { TextReader } from './reading';
	import Sheet from './Sheet.svelte';
	import { keepUnsaved, unsavedOf, type Unsaved } from './unsaved';

	/** A text that is edited as a whole: a sheet, what it says beside it, and the way to save it. */
	let { data }: { data: TextPage } = $props();
	const path = $derived(data.path);
	const asked = Number(page.url.searchParams.get('line')) || null;

	/** The text to begin with, the file it is of, and what is typed now; null until it is there. */
	let saved = $state<{ text: string; from: string | null } | null>(null);
	let begin = $state<string | null>(null);
	let now: () => string = () => '';
	let dirty = $state(false);
	let restored = $state<Unsaved | null>(null);
	let fault = $state<string | null>(null);
	let reading = $state<TextReading | null>(null);
	let line = $state(1);
	let column = $state(1);
	/** The name that the cursor is at, and the new one for it. */
	let word = $state<string | null>(null);
	let renaming = $state<string | null>(null);
	let record = $state<{ id: string; part: number; line: number; last: number } | null>(null);
	let about = $state<RecordReading | null>(null);
	let plan = $state<Intention | null>(null);
	let busy = $state(false);
	let sheet = $state<Sheet>();
	let reader: TextReader | undefined;

	const kind = $derived(record ? data.kinds[record.part] : undefined);
	/** The file was saved by somebody else since the typing began. */
	const behind = $derived(saved !== null && saved.from !== data.from);
	const facts = $derived([
		`${data.encoding}${data.bom ? ' with byte-order mark' : ''}`,
		data.eol === '\n' ? 'LF' : data.eol === '\r' ? 'CR' : 'CRLF',
		...(reading?.format && reading.records.length > 0
			? [`${counted(reading.records.length, 'record')}, read as ${reading.format}`]
			: [])
	]);

	const intention = (): Extract<Intention, { do: 'text' }> => ({
		do: 'text',
		path,
		text: now(),
		from: saved!.from,
		...(saved!.from === null
			? { like: { encoding: data.encoding as never, bom: data.bom, eol: data.eol } }
			: {})
	});

	async function fetched(of: string): Promise<{ text: string; from: string }> {
		const answer = await fetch(`/p/${data.slug}/api/text/${of.split('/').map(encodeURIComponent).join('/')}`);
		const body = (await answer.json()) as { text: string; from: string; message?: string };
		if (!answer.ok) throw new Error(body.message);
		return body;
	}

	const bare = (text: string) => text.replace(/\r\n|\r/g, '\n');

	/** Shows a text and what was typed over it before, if anything. */
	async function open(): Promise<void> {
		fault = null;
		try {
			const kept = await unsavedOf(data.slug, path);
			const file =
				data.from !== null
					? await fetched(path)
					: { text: data.model ? (await fetched(data.model)).text : (data.text ?? ''), from: null };
			const text = bare(file.text);
			if (kept && kept.text !== text) {
				restored = kept;
				saved = { text, from: kept.from };
				begin = kept.text;
				dirty = true;
			} else {
				saved = { text, from: file.from };
				begin = text;
				dirty = file.from === null && text !== '';
			}
			now = () => begin!;
			await read();
		} catch (error) {
			fault = (error as Error).message || 'The text could not be loaded.';
		}
	}

	onMount(() => {
		reader = new TextReader();
		void open();
		const leave = () => void keep();
		window.addEventListener('pagehide', leave);
		return () => {
			window.removeEventListener('pagehide', leave);
			void keep();
			reader?.end();
		};
	});

	async function read(): Promise<void> {
		const found = await reader?.read(path, now(), $state.snapshot(data.hints) as never);
		if (!found) return;
		reading = found;
		await look();
	}

	/** The record that the cursor is in, and what it says. */
	async function look(): Promise<void> {
		const within = reading?.records.filter((one) => one.line <= line && line <= one.last) ?? [];
		record = within.at(-1) ?? null;
		about = record ? ((await reader?.record(record.line)) ?? null) : null;
	}

	let pause: ReturnType<typeof setTimeout> | undefined;
	async function keep(): Promise<void> {
		if (!saved) return;
		const unsaved = dirty ? { text: now(), from: saved.from, at: Date.now() } : null;
		if (!(await keepUnsaved(data.slug, path, unsaved)) && dirty)
			say('Your browser cannot store unsaved text: save before you leave this page.', { bad: true });
	}

	function changed(text: () => string): void {
		now = text;
		dirty = true;
		clearTimeout(pause);
		pause = setTimeout(() => {
			dirty = now() !== saved?.text || saved.from === null;
			void read();
			void keep();
		}, 100);
	}

	/** The text was saved as it was then; what others changed in other lines is shown with it. */
	async function done(text: string): Promise<void> {
		restored = null;
		if (page.url.searchParams.has('new'))
			await goto(page.url.pathname, { replaceState: true, keepFocus: true });
		else await refresh();
		const file = await fetched(path);
		const fresh = bare(file.text);
		if (fresh !== text && now() === text) sheet?.replace(fresh);
		saved = { text: fresh, from: file.from };
		dirty = now() !== fresh;
		await keep();
	}

	/** The text that the plan in view would save. */
	let planned = '';
	function preview(): void {
		planned = now();
		plan = intention();
	}

	/** Saves at once, or shows the plan first where the text cannot be read completely. */
	async function save(): Promise<void> {
		if (!dirty || busy || !saved) return;
		if (reading && reading.problems.length > 0) return preview();
		const text = now();
		busy = true;
		const ok = await applyIntention(data.slug, intention());
		busy = false;
		if (ok) await done(text);
	}

	/** Shows the text as it is saved now. */
	async function catchUp(): Promise<void> {
		const { text, from } = await fetched(path);
		restored = null;
		saved = { text: bare(text), from };
		if (now() !== saved.text) sheet?.replace(saved.text);
		dirty = false;
		await keep();
	}

	/** What was typed can still be brought back in the sheet by Ctrl Z. */
	async function discard(): Promise<void> {
		try {
			await catchUp();
		} catch {
			say('The saved text could not be loaded. Nothing was discarded; try again.', { bad: true });
		}
	}

	// While nothing is typed, the sheet follows what others save, and what is undone.
	let followed = untrack(() => data.from);
	$effect(() => {
		if (data.from === null || data.from === followed || dirty || busy) return;
		followed = data.from;
		if (behind) void catchUp().catch(() => undefined);
	});

	/** Goes on with what was typed as a change of the file as it is now. */
	function mineCounts(): void {
		if (saved) saved = { ...saved, from: data.from };
	}

	$effect(() => onAction('apply', () => void save()));
</script>

<svelte:head><title>Edit {path} · Kettle Dial</title></svelte:head>
<div class="flex h-full flex-col px-6 py-4">
	<div class="flex flex-wrap items-center gap-3">
		<h1 class="font-mono text-[18px]">{path}</h1>
		{#if dirty}<span class="text-copper" role="status">not saved</span>{/if}
		<span class="ml-auto flex items-center gap-2">
			{#if dirty && data.from !== null}<button class="press slight" onclick={() => void discard()}
					>Discard changes</button
				>{/if}
			<button class="press" disabled={!dirty || busy} onclick={preview}>Preview changes</button>
			<button class="press main" disabled={!dirty || busy} title="Ctrl Enter" onclick={() => void save()}
				>{data.from === null ? 'Create file' : data.mine ? 'Save' : 'Save into my mod'}</button
			>
		</span>
	</div>
	<p class="text-steam">
		{#if data.layer}<span class={data.mine ? 'text-copper' : ''}>{data.layer.title}</span>{:else}<span
				class="text-copper">new file in my mod</span
			>{/if}
		{facts.map((fact) => `· ${fact}`).join(' ')}
		{#if data.layer}· <a class="follow" href={fileAddress(data.slug, data.layer.id, path, line)}
				>Page of the file</a
			>{/if}
		{#if data.layer && data.renames}· <a
				class="follow"
				href="/p/{data.slug}/inside/{path.split('/').map(encodeURIComponent).join('/')}">Numbers and texts</a
			>{/if}
	</p>
	{#if !data.mine && data.layer}
		<p class="text-steam">Your mod has no such file yet. Saving puts the whole file into it.</p>
	{/if}
	{#if restored}
		<p class="mt-1 text-saffron" role="status">
			This is unsaved text from {new Date(restored.at).toLocaleString()}.
		</p>
	{/if}
	{#if behind && dirty}
		<p class="mt-1 text-saffron" role="status">
			The file was changed since you began. Saving keeps both where you changed different lines.
			<button class="follow" onclick={mineCounts}>Replace it with my text</button>
		</p>
	{/if}
	{#if fault}
		<div class="plate mt-4 p-6" role="alert">
			<p class="font-semibold">The text cannot be edited here.</p>
			<p class="text-steam">{fault}</p>
		</div>
	{:else if begin === null}
		<p class="mt-4 text-steam">Loading…</p>
	{:else}
		<div class="mt-3 flex min-h-0 flex-1 gap-4">
			<div class="plate min-h-0 min-w-0 flex-1 overflow-hidden">
				<Sheet
					bind:this={sheet}
					slug={data.slug}
					{path}
					places={data.places}
					text={begin}
					label="Text of {path}"
					{reading}
					line={asked}
					{changed}
					moved={(at, from, name) => {
						column = from;
						word = name;
						if (at === line) return;
						line = at;
						void look();
					}}
				/>
			</div>
			<aside class="w-64 shrink-0 overflow-auto" aria-label="What the text says">
				{#if reading && reading.problems.length > 0}
					<h2>{counted(reading.problems.length, 'fault')}</h2>
					<ul class="mt-1 mb-4 space-y-1 text-[13px]" aria-label="Faults">
						{#each reading.problems.slice(0, 20) as problem, nth (nth)}
							<li>
								<button class="text-left text-scald hover:underline" onclick={() => sheet?.goTo(problem.line)}
									>Line {problem.line}: {problem.message}</button
								>
							</li>
						{/each}
					</ul>
				{/if}
				{#if record}
					<p class="text-[12px] text-steam">Line {line}{kind ? ` · ${kind.title}` : ''}</p>
					<h2 class="font-mono break-all">{record.id}</h2>
					{#if kind}<p>
							<a class="follow" href={recordAddress(data.slug, kind.kind, record.id)}>Open its ticket</a>
						</p>{/if}
					{#if about}
						<dl class="mt-2 grid grid-cols-[auto_1fr] gap-x-3 text-[12px]">
							{#each about.fields as field, nth (nth)}
								<dt class="max-w-28 truncate text-steam" title={field.path}>{field.path}</dt>
								<dd class="truncate font-mono {field.line === line ? 'font-bold' : ''}" title={field.value}>
									{field.value}
								</dd>
							{/each}
						</dl>
						{#if about.more > 0}<p class="text-[12px] text-steam">
								and {counted(about.more, 'more field', 'more fields')}
							</p>{/if}
					{/if}
				{:else if reading && reading.records.length > 0}
					<p class="text-[13px] text-steam">Line {line} belongs to no record.</p>
				{/if}
				{#if word !== null && data.renames && !dirty}
					<form
						class="mt-4"
						aria-label="Rename {word}"
						onsubmit={(event) => {
							event.preventDefault();
							const to = renaming?.trim() ?? '';
							if (to === '') return;
							planned = now();
							plan = { do: 'variable', path, line, column, expected: word!, to };
						}}
					>
						<label class="block text-[12px] text-steam"
							>Rename <code>{word}</code> wherever it means the same
							<input
								class="box mt-1 block w-full font-mono"
								placeholder="new name"
								bind:value={renaming}
							/></label
						>
						<button class="press mt-1" disabled={!renaming?.trim()}>Preview</button>
					</form>
				{/if}
				<p class="mt-4 text-[12px] text-steam">
					Esc leaves the text. <kbd>Ctrl Enter</kbd> saves.
				</p>
			</aside>
		</div>
	{/if}
</div>
<PlanDialog slug={data.slug} bind:intention={plan} onapplied={() => void done(planned)} />
