<script lang="ts">
	import type { Start, StartLook } from '$core/views';
	import { post, say } from '$ui/frame/client.svelte';
	import { makePause } from '$ui/frame/pause';
	import FolderPicker from '$ui/pickers/FolderPicker.svelte';
	import LogReader from '$ui/project/LogReader.svelte';
	import StartNote from '$ui/project/StartNote.svelte';
	import { untrack } from 'svelte';

	/** How one's own game takes a mod and is started: told part by part, with what would come of each beside it. */
	let { data } = $props();
	const slug = $derived(data.slug);
	const address = $derived(`/p/${slug}/api/start`);

	const first = untrack(() => data.start);
	let folder = $state(first.folder);
	let over = $state(first.install.over === true);
	let into = $state(first.install.folder);
	let twins = $state((first.install.twins ?? []).map((all) => all.join(' = ')).join('\n'));
	const { listed } = first.install;
	let switched = $state<'there' | 'lines' | 'json' | 'field'>(
		first.install.order === undefined ? 'there' : typeof listed === 'object' ? 'field' : (listed ?? 'json')
	);
	let field = $state(typeof listed === 'object' ? listed.field : '');
	let between = $state(typeof listed === 'object' ? (listed.between ?? ',') : ',');
	let order = $state(first.install.order ?? '');
	let program = $state(first.program);
	let words = $state(first.arguments.join('\n'));
	let variables = $state(
		Object.entries(first.environment)
			.map(([name, value]) => `${name}=${value}`)
			.join('\n')
	);
	let ends = $state<'itself' | 'line' | 'time'>(
		first.ends?.line ? 'line' : first.ends?.seconds ? 'time' : 'itself'
	);
	let endLine = $state(first.ends?.line ?? '');
	let seconds = $state(first.ends?.seconds ?? 30);
	let log = $state(first.install.log ?? '');
	let pattern = $state<string | null>(first.install.line ?? null);
	let refusals = $state<string[]>(first.install.refusals);

	const linesOf = (text: string) => text.split('\n').filter((line) => line.trim() !== '');
	/** Archives with the same contents, one group per line. */
	const twinsOf = (text: string) =>
		linesOf(text)
			.map((line) =>
				line
					.split('=')
					.map((one) => one.trim())
					.filter((one) => one !== '')
			)
			.filter((all) => all.length > 1);
	/** What is likely meant with the other way, where nobody wrote a folder. */
	function chooseOver(now: boolean): void {
		over = now;
		if (now && into.includes('{mod}')) into = '.';
		else if (!now && !into.includes('{mod}')) into = 'mods/{mod}';
	}
	const start = $derived<Start>({
		folder,
		program,
		arguments: linesOf(words),
		environment: Object.fromEntries(
			linesOf(variables).map((line) => {
				const at = line.indexOf('=');
				return at < 0 ? [line.trim(), ''] : [line.slice(0, at).trim(), line.slice(at + 1)];
			})
		),
		ends:
			ends === 'itself'
				? null
				: { line: ends === 'line' ? endLine || null : null, seconds: ends === 'time' ? seconds : null },
		install: {
			folder: into.trim(),
			refusals,
			...(over ? { over } : {}),
			...(over && twinsOf(twins).length > 0 ? { twins: twinsOf(twins) } : {}),
			...(switched === 'there' || order.trim() === '' || (switched === 'field' && field.trim() === '')
				? {}
				: {
						order: order.trim(),
						listed: switched === 'field' ? { field: field.trim(), between } : switched
					}),
			...(log.trim() === '' ? {} : { log: log.trim() }),
			...(pattern === null ? {} : { line: pattern })
		}
	});

	let look = $state<StartLook | null>(null);
	let fault = $state<string | null>(null);
	let busy = $state(false);
	/** The pattern of the log is made by the server: what was typed last may be on its way. */
	let reading = $state.raw<Promise<unknown>>(Promise.resolve());
	/** What was saved last on this page. */
	let saved = $state<string | null>(null);
	const isSaved = $derived(data.set && saved === JSON.stringify(start));
	const pause = makePause();
	/** Of several that are tried out, the last one counts, whichever comes first. */
	let tried = 0;
	async function tryOut(asked: Start): Promise<void> {
		const nth = ++tried;
		try {
			const found = await post<StartLook>(address, { do: 'look', start: asked });
			if (nth === tried) [look, fault] = [found, null];
		} catch (reason) {
			if (nth === tried) fault = (reason as Error).message;
		}
	}
	$effect(() => {
		const asked = $state.snapshot(start);
		if (asked.install.folder.trim() === '') return;
		pause.after(() => void tryOut(asked), 250);
	});

	async function save(event: SubmitEvent): Promise<void> {
		event.preventDefault();
		busy = true;
		try {
			await reading;
			const { said } = await post<{ said: string }>(address, { do: 'save', start });
			say(said);
			saved = JSON.stringify(start);
		} catch (reason) {
			say((reason as Error).message, { bad: true });
		}
		busy = false;
	}
</script>

<svelte:head><title>How your game is started · Kettle Dial</title></svelte:head>
<form class="mx-auto max-w-4xl px-6 py-5" onsubmit={(event) => void save(event)}>
	<p class="text-steam"><a class="follow" href="/p/{slug}/trial">Trial</a></p>
	<h1>How your game is started</h1>
	<p class="mt-1 max-w-3xl text-steam">
		Nothing is started or written while you fill this in; beside each part stands what would come of it. The
		program is kept on this machine only and never goes along with a project or a field guide.
	</p>

	<fieldset class="plate mt-4 min-w-0 p-4">
		<legend class="px-1 font-semibold">Where your mod goes</legend>
		<p aria-hidden="true">The game’s folder</p>
		<FolderPicker bind:value={folder} label="The game’s folder" required />
		<div class="mt-3 flex flex-wrap gap-x-5 gap-y-1" role="radiogroup" aria-label="Where its files stand">
			{#each [[false, 'In a folder of its own'], [true, 'In place of the game’s own files, each backed up first']] as const as [value, title] (title)}
				<label class="flex items-center gap-1.5"
					><input
						type="radio"
						class="accent-(--rim)"
						name="over"
						checked={over === value}
						onchange={() => chooseOver(value)}
					/>{title}</label
				>
			{/each}
		</div>
		<label class="mt-3 block"
			>{over ? 'Folder that the paths of your mod begin from' : 'Folder of your mod'}, below the game’s folder<input
				class="box mt-0.5 block w-full font-mono"
				bind:value={into}
				required
				placeholder={over ? '.' : 'mods/{mod}'}
			/></label
		>
		<p class="text-[12px] text-steam">
			{#if over}A single dot is the game’s folder itself. Files of an archive go into that archive; all else
				in it stays.{:else}<code>{'{mod}'}</code> stands for <code>{data.mod}</code>.{/if}
		</p>
		{#if over}
			<label class="mt-2 block"
				>Archives with the same contents, one group per line<textarea
					class="box mt-0.5 block h-14 w-full font-mono"
					bind:value={twins}
					spellcheck="false"
					placeholder="data.zip = spare/data.zip"></textarea></label
			>
		{/if}
		<StartNote look={look?.place ?? null} />
	</fieldset>

	<fieldset class="plate mt-4 min-w-0 p-4">
		<legend class="px-1 font-semibold">How it is switched on</legend>
		<div class="flex flex-wrap gap-x-5 gap-y-1">
			{#each [['there', 'It is enough that it is there'], ['lines', 'A line in a list'], ['json', 'A name under “mods” in a JSON file'], ['field', 'A field of a configuration']] as const as [value, title] (value)}
				<label class="flex items-center gap-1.5"
					><input type="radio" class="accent-(--rim)" {value} bind:group={switched} />{title}</label
				>
			{/each}
		</div>
		{#if switched !== 'there'}
			<label class="mt-3 block"
				>That file, below the game’s folder<input
					class="box mt-0.5 block w-full font-mono"
					bind:value={order}
					required
					placeholder={switched === 'lines'
						? 'mods/enabled.txt'
						: switched === 'field'
							? 'settings.ini'
							: 'mods/order.json'}
				/></label
			>
			{#if switched === 'field'}
				<div class="mt-3 grid gap-4 sm:grid-cols-2">
					<label
						>The field<input
							class="box mt-0.5 block w-full font-mono"
							bind:value={field}
							required
							placeholder="Mods/active, or game.mods in JSON"
						/></label
					>
					<label
						>Between two names, where it is no list<input
							class="box mt-0.5 block w-24 font-mono"
							bind:value={between}
							required
						/></label
					>
				</div>
			{/if}
		{/if}
		<StartNote look={look?.order ?? null} />
		{#if look && look.order.after.length > 0}
			<pre
				class="mt-1 overflow-auto rounded bg-wash px-3 py-1.5 font-mono text-[12px]">{look.order.after.join(
					'\n'
				)}</pre>
		{/if}
	</fieldset>

	<fieldset class="plate mt-4 min-w-0 p-4">
		<legend class="px-1 font-semibold">What is run</legend>
		<label class="block"
			>Program<input
				class="box mt-0.5 block w-full font-mono"
				bind:value={program}
				required
				placeholder="bin/game, or a whole path"
			/></label
		>
		<div class="mt-3 grid gap-4 sm:grid-cols-2">
			<label
				>Arguments, one a line<textarea
					class="box mt-0.5 block h-20 w-full font-mono"
					bind:value={words}
					spellcheck="false"></textarea></label
			>
			<label
				>Variables, one a line<textarea
					class="box mt-0.5 block h-20 w-full font-mono"
					bind:value={variables}
					spellcheck="false"
					placeholder="NAME=value"></textarea></label
			>
		</div>
		<p class="text-[12px] text-steam">
			Each line is one argument as it is; no shell reads it. <code>{'{mod}'}</code> in it stands for
			<code>{data.mod}</code>.
		</p>
		<StartNote look={look?.program ?? null} />
		<div class="mt-3 flex flex-wrap items-center gap-x-5 gap-y-1">
			<span>It is over when</span>
			{#each [['itself', 'it ends by itself'], ['line', 'its log says'], ['time', 'a time has gone by']] as const as [value, title] (value)}
				<label class="flex items-center gap-1.5"
					><input type="radio" class="accent-(--rim)" {value} bind:group={ends} />{title}</label
				>
			{/each}
			{#if ends === 'line'}<input
					class="box w-60 font-mono"
					bind:value={endLine}
					required
					aria-label="What its log says at the end"
				/>{/if}
			{#if ends === 'time'}<label class="flex items-center gap-1.5"
					><input
						class="box w-20 text-right font-mono"
						type="number"
						min="1"
						max="3600"
						bind:value={seconds}
					/>seconds</label
				>{/if}
		</div>
	</fieldset>

	<fieldset class="plate mt-4 min-w-0 p-4">
		<legend class="px-1 font-semibold">Its log</legend>
		<label class="block"
			>File of the log, below the game’s folder<input
				class="box mt-0.5 block w-full font-mono"
				bind:value={log}
				placeholder="logs/game.log"
			/></label
		>
		<StartNote look={look?.log ?? null} />
		<LogReader {address} {folder} log={log.trim()} bind:pattern bind:refusals bind:reading />
	</fieldset>

	{#if fault}<p class="mt-3 text-scald" role="alert">{fault}</p>{/if}
	<p class="mt-4 flex items-center gap-3">
		<button class="press {isSaved ? '' : 'main'}" disabled={busy}>Save</button>
		{#if isSaved}<a class="press main" href="/p/{slug}/trial">Go to the trial</a>{/if}
		<span class="text-[13px] text-steam">Nothing is started yet; the page Trial does that.</span>
	</p>
</form>
