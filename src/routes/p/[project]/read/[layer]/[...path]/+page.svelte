<script lang="ts">
	import { goto } from '$app/navigation';
	import { counted, numbered } from '$core/wording';
	import type { ReadHow } from '$core/infer';
	import type { ReadPreview } from '$core/views';
	import ByteView from '$ui/project/ByteView.svelte';
	import PackedOptions from '$ui/project/PackedOptions.svelte';
	import PasteLayout from '$ui/project/PasteLayout.svelte';
	import HowOptions from '$ui/project/HowOptions.svelte';
	import { nameOfHow, OTHERS } from '$ui/project/how';
	import { changeGuide } from '$ui/guide/change';
	import { post, Refused } from '$ui/frame/client.svelte';
	import { makePause } from '$ui/frame/pause';

	let { data } = $props();
	const slug = $derived(data.project.slug);
	const reading = $derived(data.reading);

	// svelte-ignore state_referenced_locally (the page starts from what was loaded, and goes on by itself)
	let how = $state<ReadHow>({ ...(reading.proposals[0]?.how ?? { format: 'lines' }) });
	let chosen = $state(0);
	// svelte-ignore state_referenced_locally
	let preview = $state<ReadPreview>(reading.preview);
	let fault = $state('');
	let busy = $state(false);
	// svelte-ignore state_referenced_locally
	let title = $state(reading.suggested.title);
	// svelte-ignore state_referenced_locally
	let kind = $state(reading.suggested.kind);
	// svelte-ignore state_referenced_locally
	let files = $state(
		Math.max(
			0,
			reading.files.findIndex(({ told }) => told)
		)
	);
	let key = $state('');
	/** The name that was suggested last. */
	// svelte-ignore state_referenced_locally
	let named = reading.suggested.kind;
	const NAME = '[\\p{L}\\p{N}_\\-]+';
	const pause = makePause();

	const owner = $derived(reading.now.kinds.find((one) => one.said === 'shared'));
	const starts = $derived(new Map(preview.starts.map((line, nth) => [line, nth + 1])));
	const wrong = $derived(new Map(preview.problems.map(({ line, message }) => [line, message])));
	const keys = $derived(preview.fields.filter(({ unique, path }) => unique && !/[[\]]/.test(path)));
	const percent = (share: number) => `${Math.floor(share * 1000) / 10} %`;

	const unit = $derived(preview.bytes ? 'byte' : 'line');

	/** Takes a layout over as somebody wrote it. */
	async function paste(pasted: string): Promise<string> {
		try {
			preview = await post<ReadPreview>(`/p/${slug}/api/read`, {
				layer: reading.layer.id,
				path: reading.path,
				pasted
			});
		} catch (error) {
			if (!(error instanceof Refused)) throw error;
			return error.message;
		}
		chosen = -1;
		key = '';
		fault = '';
		how = preview.how!;
		return '';
	}

	async function look() {
		busy = true;
		try {
			preview = await post<ReadPreview>(`/p/${slug}/api/read`, {
				layer: reading.layer.id,
				path: reading.path,
				how: { ...$state.snapshot(how), ...(key ? { key } : {}) }
			});
			fault = '';
		} catch (error) {
			if (!(error instanceof Refused)) throw error;
			fault = error.message;
		}
		busy = false;
	}

	function choose(nth: number) {
		chosen = nth;
		how = { ...reading.proposals[nth]!.how };
		key = '';
		void look();
	}

	const WHOLE = 'whole';
	const placeOf = (at: string | null) => (at === null ? WHOLE : `in ${at}`);
	function stand(place: string) {
		const at = place === WHOLE ? null : place.slice(3);
		how = { ...how, at };
		// What is in a list of a name is called so, until somebody calls it otherwise.
		const word = at
			?.split('.')
			.at(-1)
			?.replace(/[^\p{L}\p{N}_-]+/gu, '_');
		if (word && named === kind) {
			named = kind = word;
			title = word.replace(/[_-]+/g, ' ').replace(/^./, (letter) => letter.toUpperCase());
		}
		key = '';
		void look();
	}

	/** Records that go by their number need the name of their file too, where several files have some. */
	function idBy({ glob, count }: (typeof reading.files)[number]): { id?: 'file' | 'both' } {
		if (preview.at === null && preview.places.length > 0) return { id: 'file' };
		if (count < 2 || !preview.rows[0]?.id.startsWith('#')) return {};
		return { id: glob.slice(0, glob.lastIndexOf('/') + 1).includes('*') ? 'both' : 'file' };
	}

	/** A way that was not proposed: its details are to be filled in. */
	function other(next: string) {
		chosen = -1;
		how = JSON.parse(next) as ReadHow;
		key = '';
		void look();
	}

	async function keep(event: SubmitEvent) {
		event.preventDefault();
		const { separator, at, key: _, ...written } = $state.snapshot(how);
		const done = await changeGuide(slug, {
			do: 'read',
			kind: kind.trim(),
			title: title.trim(),
			files: [reading.files[files]!.glob],
			...(key ? { key } : {}),
			...idBy(reading.files[files]!),
			...(at === undefined ? {} : { at }),
			...(separator === undefined ? {} : { separator }),
			written
		});
		if (done) await goto(`/p/${slug}/tables/${encodeURIComponent(kind.trim())}`);
	}
</script>

<svelte:head><title>Read {reading.path} as data · Kettle Dial</title></svelte:head>
<div class="grid h-full grid-cols-[minmax(420px,1fr)_minmax(380px,1fr)] gap-6 px-6 py-4">
	<div class="min-h-0 overflow-auto pr-1">
		<h1 class="text-[20px]">Read this file as data</h1>
		<p class="mb-3 text-steam">
			<a
				class="follow font-mono"
				href="/p/{slug}/file/{encodeURIComponent(reading.layer.id)}/{reading.path
					.split('/')
					.map(encodeURIComponent)
					.join('/')}">{reading.path}</a
			>
			in {reading.layer.title}.
			{#if reading.now.kinds.length === 0}Not read as data so far.{:else}Its records are now
				{reading.now.kinds.map((one) => one.title).join(', ')}.{/if}
		</p>

		<fieldset>
			<legend class="font-semibold">How is it written?</legend>
			{#each reading.proposals as proposal, nth (nth)}
				<label
					class="mt-1 flex cursor-pointer items-start gap-2 rounded-lg border px-3 py-1.5 {chosen === nth
						? 'border-rim bg-porcelain'
						: 'border-line'}"
				>
					<input
						type="radio"
						name="how"
						class="mt-1 accent-(--rim)"
						checked={chosen === nth}
						onchange={() => choose(nth)}
					/>
					<span class="min-w-0"
						><span class="font-semibold">{nameOfHow(proposal.how)}</span>
						<span class="block text-[12px] text-steam"
							>{counted(proposal.records, 'record')} with {counted(proposal.fields.length, 'field')}: {proposal.fields
								.slice(0, 5)
								.join(', ')}{proposal.fields.length > 5 ? '…' : ''}</span
						>
						<span class="block text-[12px] text-steam"
							>{proposal.explained === 1
								? `Explains every ${unit}.`
								: `Explains ${percent(proposal.explained)} of the ${unit}s.`}
							{proposal.because?.join(' ') ?? ''}</span
						></span
					>
				</label>
			{/each}
			{#if preview.bytes}
				<PasteLayout {paste} />
			{:else}
				<label class="mt-2 flex items-center gap-2 text-steam"
					>Another way
					<select class="box" bind:value={() => '', (next) => next !== '' && other(next)}>
						<option value="">choose…</option>
						{#each OTHERS as one (one.layout?.shape ?? one.format)}<option value={JSON.stringify(one)}
								>{nameOfHow(one)}</option
							>{/each}
					</select>
					{#if chosen < 0}<span class="text-rim">{nameOfHow(how)}</span>{/if}</label
				>
			{/if}
		</fieldset>

		{#if how.layout?.shape === 'packed'}
			<PackedOptions bind:how changed={() => pause.after(() => void look(), 250)} />
		{/if}
		<HowOptions bind:how changed={() => pause.after(() => void look(), 250)} />

		{#if preview.places.length > 0}
			<label class="mt-3 block font-semibold"
				>Where do its records stand?
				<select
					class="box mt-1 block w-full font-normal"
					bind:value={() => placeOf(preview.at), (next) => stand(next)}
				>
					{#each preview.places as { at, records } (at)}
						<option value={placeOf(at)}
							>{at === null
								? 'The whole file is one record'
								: `${at === '' ? 'At the top' : `In ${at}`}: ${counted(records, 'record')}`}</option
						>
					{/each}
				</select></label
			>
		{/if}

		<section class="mt-4" aria-live="polite">
			<h2 class="text-[15px]">
				{counted(preview.records, 'record')}{busy ? ' …' : ''}
				<span class="font-sans text-[12px] font-normal text-steam"
					>explains {percent(preview.explained)} of the {unit}s</span
				>
			</h2>
			{#if fault}<p class="text-scald" role="alert">{fault}</p>{/if}
			{#if preview.fault}<p class="text-scald">{preview.fault}</p>{/if}
			{#if preview.rows.length > 0}
				<div class="plate mt-1 overflow-auto">
					<table class="w-full text-[12px]">
						<thead
							><tr class="border-b border-line text-left"
								><th class="px-2 py-1">Record</th>{#each preview.fields.slice(0, 8) as field (field.path)}<th
										class="px-2 py-1">{field.path}</th
									>{/each}</tr
							></thead
						>
						<tbody>
							{#each preview.rows as row, nth (nth)}
								<tr class="border-b border-line/50"
									><td class="px-2 py-0.5 font-mono">{row.id}</td>{#each row.values as value, at (at)}<td
											class="max-w-40 truncate px-2 py-0.5 font-mono">{value}</td
										>{/each}</tr
								>
							{/each}
						</tbody>
					</table>
				</div>
			{/if}
			{#each preview.problems.slice(0, 3) as problem (`${problem.line} ${problem.message}`)}
				<p class="mt-1 text-[12px] text-scald">
					{preview.bytes ? '' : `Line ${numbered(problem.line)}: `}{problem.message}
				</p>
			{/each}
		</section>

		{#if owner}
			<p class="plate mt-4 p-3">
				The field guide already says how files of <i>{owner.title}</i> are read.
				<a class="follow" href="/p/{slug}/guide/{encodeURIComponent(owner.kind)}">Open its field guide</a>
			</p>
		{:else}
			<form class="plate mt-4 space-y-2 p-4" onsubmit={keep}>
				<label class="block"
					>What are its records called?<input
						class="box mt-1 block w-full"
						bind:value={title}
						required
					/></label
				>
				<label class="block"
					>Name in the field guide<input
						class="box mt-1 block w-full font-mono"
						bind:value={kind}
						required
						pattern={NAME}
						title="letters, digits, dashes and _"
					/></label
				>
				<label class="block"
					>Field that names a record
					<select class="box mt-1 block w-full" bind:value={() => key, (next) => ((key = next), void look())}>
						<option value="">as detected</option>
						{#each keys as field (field.path)}<option value={field.path}>{field.path}</option>{/each}
					</select></label
				>
				<fieldset>
					<legend>Which files are read like this?</legend>
					{#each reading.files as choice, nth (choice.glob)}
						<label class="flex items-center gap-2"
							><input
								type="radio"
								name="files"
								class="accent-(--rim)"
								checked={files === nth}
								onchange={() => (files = nth)}
							/>{nth === 0 ? 'Only this file' : `Every ${choice.glob}`}
							<span class="text-steam">{counted(choice.count, 'file')}</span></label
						>
					{/each}
				</fieldset>
				<p class="text-[12px] text-steam">This goes into your field guide and can be undone there.</p>
				<button class="press main" disabled={preview.records === 0 || fault !== ''}>Read it like this</button>
			</form>
		{/if}
	</div>

	{#if preview.bytes}
		<div class="flex min-h-0 flex-col"><ByteView page={preview.bytes} /></div>
	{:else}
		<!-- svelte-ignore a11y_no_noninteractive_tabindex (a region that scrolls must be reachable by keyboard) -->
		<div
			class="plate min-h-0 overflow-auto py-2 font-mono text-[12px] leading-[18px]"
			role="region"
			aria-label="Lines of the file, with the records that begin on them"
			tabindex="0"
		>
			{#each reading.lines as text, at (at)}
				<div
					class="flex w-max min-w-full gap-2 border-l-4 px-2 {wrong.has(at + 1)
						? 'border-scald bg-wash'
						: starts.has(at + 1)
							? 'border-verdigris'
							: 'border-transparent'}"
					title={wrong.get(at + 1)}
				>
					<span class="w-9 shrink-0 text-right text-verdigris select-none"
						>{starts.has(at + 1) ? `#${starts.get(at + 1)}` : ''}</span
					><span class="whitespace-pre">{text.replaceAll('\t', ' → ')}</span>
				</div>
			{/each}
			{#if reading.total > reading.lines.length}<p class="px-2 pt-2 font-sans text-steam">
					{numbered(reading.total - reading.lines.length)} more lines are read but not shown.
				</p>{/if}
		</div>
	{/if}
</div>
