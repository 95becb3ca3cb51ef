<script lang="ts">
	import { Dialog } from 'bits-ui';
	import { page } from '$app/state';
	import type { How, Intention } from '$core/edits';
	import type { ManyView, TableView } from '$core/views';
	import { makePause } from '../frame/pause';
	import { rowsQuery } from '../frame/address';
	import { post, Refused } from '../frame/client.svelte';

	/** One change for many records: how, what becomes of each value, how they are distributed before and after. */
	let {
		slug,
		table,
		field: first,
		ids,
		all,
		query,
		layers,
		done
	}: {
		slug: string;
		table: TableView;
		field: string;
		/** The records that are chosen; empty for all that pass. */
		ids: string[];
		/** How many pass, and what the address asks. */
		all: number;
		query: { where: string[]; filter: string; sort: string[] };
		layers: { id: string; title: string }[];
		/** With the intention to show as a plan, or null. */
		done: (intention: Intention | null) => void;
	} = $props();

	// svelte-ignore state_referenced_locally (the dialog begins with these and goes its own way)
	let field = $state(first);
	// svelte-ignore state_referenced_locally
	let some = $state(ids.length > 1);
	/** A way to change values; `clear` sets them to nothing, which is never meant by an empty box. */
	type Way = How['by'] | 'clear';
	let by = $state<Way>('add');
	let text = $state('');
	let other = $state('');
	/** Of a text that is replaced: whether capitals are kept, what stays as it is, and forms that stay. */
	// svelte-ignore state_referenced_locally (as above)
	const isText = page.data.wordsKind === table.kind;
	let keepCase = $state(isText);
	let outside = $state(isText);
	let leave = $state<string[]>([]);
	let view = $state<ManyView | null>(null);
	let fault = $state('');
	let working = $state(false);
	const pause = makePause();

	const column = $derived(table.columns.find(({ path }) => path === field));
	const WAYS: Record<Way, string> = {
		add: 'add or subtract',
		multiply: 'multiply by',
		set: 'set to',
		clear: 'clear',
		clamp: 'limit to',
		round: 'round to steps of',
		scale: 'scale into',
		replace: 'replace text',
		copy: 'copy from the field',
		layer: 'as in this layer',
		formula: 'calculate by'
	};
	const ways = $derived(
		(Object.keys(WAYS) as Way[]).filter(
			(way) => column?.numeric || !['add', 'multiply', 'clamp', 'round', 'scale'].includes(way)
		)
	);
	$effect(() => {
		if (!ways.includes(by)) by = 'set';
	});

	const number = (typed: string): number | null =>
		typed.trim() !== '' && Number.isFinite(Number(typed)) ? Number(typed) : null;
	const how = $derived.by((): How | null => {
		const [a, b] = [number(text), number(other)];
		switch (by) {
			case 'add':
				return a === null ? null : { by, amount: a };
			case 'multiply':
				return a === null ? null : { by, factor: a };
			case 'round':
				return a === null || a <= 0 ? null : { by, step: a };
			case 'clamp':
				return a === null && b === null ? null : { by, low: a, high: b };
			case 'scale':
				return a === null || b === null ? null : { by, low: a, high: b };
			case 'set':
				return text === '' ? null : { by, value: text };
			case 'clear':
				return { by: 'set', value: '' };
			case 'replace':
				return text === '' ? null : { by, find: text, with: other, keepCase, outside, leave };
			case 'copy':
				return text === '' ? null : { by, from: text };
			case 'layer':
				return text === '' ? null : { by, layer: text };
			case 'formula':
				return text.trim() === '' ? null : { by, formula: text };
		}
	});

	$effect(() => {
		const body = {
			kind: table.kind,
			field,
			how: $state.snapshot(how),
			...(some ? { ids: $state.snapshot(ids) } : { rows: $state.snapshot(query) })
		};
		pause.stop();
		fault = '';
		if (!body.how) {
			view = null;
			return;
		}
		pause.after(() => {
			working = true;
			post<ManyView>(`/p/${slug}/api/many`, body)
				.then(
					(found) => (view = found),
					(error: unknown) => {
						if (!(error instanceof Refused)) throw error;
						fault = error.message;
						view = null;
					}
				)
				.finally(() => (working = false));
		}, 120);
	});

	async function show(event: SubmitEvent) {
		event.preventDefault();
		if (!how || !view || view.changed === 0) return;
		let chosen = ids;
		if (!some) {
			const asked = rowsQuery(query, { ids: 'yes' });
			const answer = await fetch(`/p/${slug}/api/rows/${encodeURIComponent(table.kind)}${asked}`);
			if (!answer.ok) {
				fault = 'The records could not be loaded. Try again.';
				return;
			}
			chosen = ((await answer.json()) as { ids: string[] }).ids;
		}
		done({ do: 'change', kind: table.kind, ids: $state.snapshot(chosen), field, how: $state.snapshot(how) });
	}

	const most = $derived(view?.bars ? Math.max(1, ...view.bars.before, ...view.bars.after) : 1);
	const shown = (value: string | null) => (value === null || value === '' ? '—' : value);
</script>

<Dialog.Root open onOpenChange={(open) => !open && done(null)}>
	<Dialog.Portal>
		<Dialog.Overlay class="fixed inset-0 z-40 bg-black/40" />
		<Dialog.Content
			class="plate fixed top-16 left-1/2 z-50 flex max-h-[84vh] w-[680px] max-w-[94vw] -translate-x-1/2 flex-col shadow-xl"
			data-testid="change-many"
		>
			<form class="flex min-h-0 flex-1 flex-col" onsubmit={show}>
				<header class="border-b border-line px-5 py-3">
					<Dialog.Title class="text-[16px] font-semibold"
						>Change many {table.plural.toLowerCase()}</Dialog.Title
					>
					<Dialog.Description class="text-steam"
						>Each value is shown before anything is written.</Dialog.Description
					>
					<div class="mt-3 flex flex-wrap items-center gap-2">
						{#if ids.length > 1}
							<select class="box" bind:value={some} aria-label="Which records">
								<option value={true}>the {ids.length} chosen</option>
								<option value={false}>all {all} matching</option>
							</select>
						{:else}<span>All {all} matching:</span>{/if}
						<select class="box" bind:value={field} aria-label="Field">
							{#each table.columns as one (one.path)}<option value={one.path}>{one.title}</option>{/each}
						</select>
						<select class="box" bind:value={by} aria-label="How">
							{#each ways as way (way)}<option value={way}>{WAYS[way]}</option>{/each}
						</select>
						{#if by === 'copy'}
							<select class="box" bind:value={text} aria-label="Field to copy from">
								<option value="">which field?</option>
								{#each table.columns as one (one.path)}<option value={one.path}>{one.title}</option>{/each}
							</select>
						{:else if by === 'layer'}
							<select class="box" bind:value={text} aria-label="Layer">
								<option value="">which layer?</option>
								{#each layers as layer (layer.id)}<option value={layer.id}>{layer.title}</option>{/each}
							</select>
						{:else if by !== 'clear'}
							<input
								class="box font-mono {by === 'formula' ? 'w-80' : 'w-28'}"
								bind:value={text}
								aria-label={by === 'clamp' || by === 'scale'
									? 'From'
									: by === 'replace'
										? 'Text to find'
										: 'By what'}
								placeholder={by === 'formula' ? 'value * 1.1 + 2' : by === 'replace' ? 'find' : ''}
							/>
							{#if by === 'clamp' || by === 'scale' || by === 'replace'}
								<span class="text-steam">{by === 'replace' ? 'with' : 'to'}</span>
								<input
									class="box w-28 font-mono"
									bind:value={other}
									aria-label={by === 'replace' ? 'Text to put there' : 'To'}
								/>
							{/if}
						{/if}
					</div>
					{#if by === 'replace'}
						<div class="mt-2 flex flex-wrap gap-x-4">
							<label class="flex items-center gap-1.5"
								><input type="checkbox" class="accent-(--rim)" bind:checked={keepCase} />match any capitals,
								and keep them</label
							>
							<label class="flex items-center gap-1.5"
								><input type="checkbox" class="accent-(--rim)" bind:checked={outside} />leave placeholders and
								tags alone</label
							>
						</div>
						{#if view && view.forms.length > 1}
							<fieldset class="mt-2 flex max-h-24 flex-wrap gap-x-4 overflow-auto" data-testid="forms">
								<legend class="sr-only">Where it is replaced</legend>
								{#each view.forms as { form, count } (form)}
									<label class="flex items-center gap-1.5"
										><input
											type="checkbox"
											class="accent-(--rim)"
											checked={!leave.includes(form)}
											onchange={(event) =>
												(leave = event.currentTarget.checked
													? leave.filter((one) => one !== form)
													: [...leave, form])}
										/>{form} <span class="font-mono text-[12px] text-steam">{count}</span></label
									>
								{/each}
							</fieldset>
						{/if}
					{/if}
					{#if by === 'formula'}<p class="mt-1 text-[12px] text-steam">
							Fields by their names, <code>value</code> for the field itself; + - * / %, comparisons,
							<code>a ? b : c</code>, min, max, round, floor, ceil, abs, sqrt, clamp.
						</p>{/if}
				</header>
				<div class="min-h-40 flex-1 overflow-auto px-5 py-3" aria-busy={working}>
					{#if fault}<p class="text-scald" role="alert">{fault}</p>
					{:else if !view}<p class="text-steam">Choose a change to preview it.</p>
					{:else}
						<p role="status">
							{view.changed} of {view.count} values change.
							{#each view.faults.slice(0, 3) as one (one.says)}<span class="mr-2 text-saffron"
									>{one.count} {one.says}.</span
								>{/each}
						</p>
						{#if view.bars}
							<figure class="mt-2">
								<svg width="620" height="76" role="img" aria-label="Distribution before and after">
									{#each view.bars.before as count, bar (bar)}
										<rect
											x={bar * 25}
											y={58 - (count / most) * 56}
											width="11"
											height={(count / most) * 56}
											fill="var(--rim)"
											opacity="0.5"><title>before: {count}</title></rect
										>
										<rect
											x={bar * 25 + 11}
											y={58 - (view.bars.after[bar]! / most) * 56}
											width="11"
											height={(view.bars.after[bar]! / most) * 56}
											fill="var(--copper)"><title>after: {view.bars.after[bar]}</title></rect
										>
									{/each}
									<path d="M0 58.5H600" stroke="var(--rim)" />
									<text x="0" y="72" font-size="11" fill="var(--steam)">{view.bars.low}</text>
									<text x="598" y="72" font-size="11" fill="var(--steam)" text-anchor="end"
										>{view.bars.high}</text
									>
								</svg>
								<figcaption class="text-[12px] text-steam">
									Distribution: ink before, <span class="text-copper">copper</span> after.
								</figcaption>
							</figure>
						{/if}
						<table class="mt-2 w-full border-collapse text-left">
							<tbody>
								{#each view.values as value (value.id)}
									<tr class="border-t border-line">
										<td class="py-0.5 pr-3 align-top"
											>{#if value.name !== value.id}<span class="mr-2">{value.name}</span>{/if}<code
												class="text-[12px] text-steam">{value.id}</code
											></td
										>
										<td
											class="py-0.5 pr-3 align-top text-steam {column?.numeric ? 'text-right font-mono' : ''}"
											>{shown(value.before)}</td
										>
										<td class="py-0.5 align-top text-copper {column?.numeric ? 'text-right font-mono' : ''}"
											>{shown(value.after)}</td
										>
										<td class="py-0.5 pl-3 text-[12px] text-saffron">{value.fault ?? ''}</td>
									</tr>
								{/each}
							</tbody>
						</table>
						{#if view.changed > view.values.length}<p class="mt-1 text-steam">
								The first {view.values.length} are shown.
							</p>{/if}
					{/if}
				</div>
				<footer class="flex justify-end gap-2 border-t border-line px-5 py-3">
					<Dialog.Close class="press" type="button">Cancel</Dialog.Close>
					<button class="press main" disabled={!view || view.changed === 0}>Preview changes</button>
				</footer>
			</form>
		</Dialog.Content>
	</Dialog.Portal>
</Dialog.Root>
