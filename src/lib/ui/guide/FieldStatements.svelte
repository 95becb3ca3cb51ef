<script lang="ts">
	import { counted } from '$core/wording';
	import { changeGuide, TYPES } from './change';
	import Scale from '../charts/Scale.svelte';
	import SureMark from '../frame/SureMark.svelte';
	import ValueEditor from '../editors/ValueEditor.svelte';
	import type { GuideFieldView, GuideKindView } from '$core/views';

	/** All that is said of one field, why, and what is there; each statement is corrected in place. */
	let {
		slug,
		kind,
		kinds,
		sets,
		field,
		settle
	}: {
		slug: string;
		kind: string;
		kinds: GuideKindView['kinds'];
		/** Names of the sets of known values. */
		sets: readonly string[];
		field: GuideFieldView;
		settle: (what: 'accept' | 'reject') => Promise<void>;
	} = $props();

	const state_ = (statements: Record<string, unknown>) =>
		changeGuide(slug, { do: 'say', kind, field: field.path, statements });
	const said = (name: string, text: string) => state_({ [name]: text.trim() === '' ? null : text.trim() });
	const number = (name: string, text: string) =>
		state_({ [name]: text.trim() === '' || !Number.isFinite(Number(text)) ? null : Number(text) });
	const meaning = (code: string, text: string) =>
		changeGuide(slug, { do: 'code', kind, field: field.path, code, means: text.trim() });
	const coded = $derived(
		field.type === 'code' ||
			(field.type === 'whole' && field.different <= 16) ||
			Object.keys(field.codes).length > 0
	);
	const bits = $derived(
		field.type === 'flags'
			? Array.from(
					{
						length: Math.max(
							...Object.keys(field.codes).map((bit) => Number(bit) + 1),
							Math.floor(Math.log2(Math.max(1, field.spread?.max ?? 1))) + 1
						)
					},
					(_, bit) => String(bit)
				)
			: []
	);
	/** The name of a new set, while one is made. */
	let newSet = $state<string | null>(null);
	const knowsCodes = $derived(Object.keys(field.codes).length > 0);
	const target = $derived(field.reference?.kinds.length === 1 ? field.reference.kinds[0] : '');
</script>

<section class="flex h-full flex-col" aria-label="Details of {field.path}" data-testid="statements">
	<header class="border-b border-line px-4 pt-3 pb-2">
		<p class="text-[12px] wrap-anywhere text-steam"><code>{field.path}</code></p>
		<h2 class="font-title text-[20px] leading-7 font-medium wrap-anywhere">
			{field.title ?? /[^.]*[^.*][^.]*(?:\.\*+)*$/.exec(field.path)?.[0] ?? field.path}
		</h2>
		<p class="mt-1 flex flex-wrap items-center gap-2">
			<SureMark origin={field.sure >= 1 ? field.origin : 'found'} sure={field.sure} />
			{#if field.sure < 1}
				<button class="press main" onclick={() => void settle('accept')}>Accept</button>
				<button class="press" onclick={() => void settle('reject')}>Reject</button>
			{/if}
		</p>
		{#if field.because}<p class="mt-1">{field.because}</p>{/if}
		{#if field.seen !== null}<p class="mt-1">
				The game was seen to refuse what this rules out, in {counted(field.seen, 'trial')}.
			</p>{/if}
	</header>
	<div class="min-h-0 flex-1 overflow-auto px-4 pb-8">
		<div class="mt-3 grid grid-cols-[92px_1fr] items-center gap-x-3 gap-y-1.5">
			<label for="fs-type" class="text-steam">Type</label>
			<select
				id="fs-type"
				class="box"
				value={field.type}
				onchange={(event) => void state_({ type: event.currentTarget.value })}
			>
				{#each Object.entries(TYPES) as [type, title] (type)}<option value={type}>{title}</option>{/each}
			</select>
			<label for="fs-kind" class="text-steam">Refers to</label>
			<span class="min-w-0">
				<select
					id="fs-kind"
					class="box w-full"
					value={target}
					onchange={(event) => {
						const next = event.currentTarget.value;
						void state_(
							next === ''
								? { reference: null, type: 'text', not: ['reference'] }
								: { reference: { kinds: [next] }, type: 'reference' }
						);
					}}
				>
					<option value=""
						>{field.reference && target === '' ? field.reference.kinds.join(' or ') : 'nothing'}</option
					>
					{#each kinds as other (other.kind)}<option value={other.kind}>{other.title}</option>{/each}
				</select>
				{#if field.reference}<span class="text-[12px] text-steam">{field.reference.rule}</span>{/if}
			</span>
			<span class="text-steam">Label</span>
			<ValueEditor
				value={field.title ?? ''}
				label="Label"
				wide
				mine={field.mine.includes('title')}
				save={(text) => said('title', text)}
			/>
			<span class="text-steam">What it does</span>
			<ValueEditor
				value={field.meaning ?? ''}
				label="What it does"
				wide
				mine={field.mine.includes('meaning')}
				save={(text) => said('meaning', text)}
			/>
			<span class="text-steam">Unit</span>
			<ValueEditor
				value={field.unit ?? ''}
				label="Unit"
				wide
				mine={field.mine.includes('unit')}
				save={(text) => said('unit', text)}
			/>
			<span class="text-steam">Hard limits</span>
			<span class="flex items-center gap-2">
				<span class="w-24"
					><ValueEditor
						value={field.min === null ? '' : String(field.min)}
						label="Minimum"
						numeric
						mine={field.mine.includes('min')}
						save={(text) => number('min', text)}
					/></span
				>
				to
				<span class="w-24"
					><ValueEditor
						value={field.max === null ? '' : String(field.max)}
						label="Maximum"
						numeric
						mine={field.mine.includes('max')}
						save={(text) => number('max', text)}
					/></span
				>
			</span>
			<span></span>
			<span class="flex gap-4">
				<label class="flex items-center gap-1.5"
					><input
						type="checkbox"
						class="accent-(--rim)"
						checked={field.required}
						onchange={(event) => void state_({ required: event.currentTarget.checked })}
					/>Required</label
				>
				<label class="flex items-center gap-1.5"
					><input
						type="checkbox"
						class="accent-(--rim)"
						checked={field.unused}
						onchange={(event) => void state_({ unused: event.currentTarget.checked })}
					/>Not used by the game</label
				>
			</span>
		</div>
		{#if field.type !== 'flags' && (sets.length > 0 || knowsCodes)}
			<form
				class="mt-3 flex flex-wrap items-center gap-2"
				onsubmit={async (event) => {
					event.preventDefault();
					if (await changeGuide(slug, { do: 'set', kind, field: field.path, name: newSet!.trim() }))
						newSet = null;
				}}
			>
				<label class="flex items-center gap-2 text-steam"
					>Known values<select
						class="box text-ink"
						value={newSet === null ? (field.set ?? '') : '+'}
						onchange={(event) => {
							const next = event.currentTarget.value;
							newSet = next === '+' ? '' : null;
							if (next !== '+') void state_({ set: next === '' ? null : next });
						}}
					>
						<option value="">only of this field</option>
						{#each sets as set (set)}<option value={set}>set “{set}”</option>{/each}
						{#if knowsCodes && field.set === null}<option value="+">a new set of these…</option>{/if}
					</select></label
				>
				{#if newSet !== null}
					<input class="box w-32" aria-label="Name of the set" placeholder="key codes" bind:value={newSet} />
					<button class="press" disabled={newSet.trim() === ''}>Keep as a set</button>
				{/if}
			</form>
		{/if}
		{#if field.says.length > 0}
			<ul class="mt-3 list-disc pl-5 text-steam">
				{#each field.says as says (says)}<li>{says}</li>{/each}
			</ul>
		{/if}

		{#if bits.length > 0}
			<h3 class="mt-5 border-b border-line pb-0.5 font-semibold">Bits</h3>
			{#each bits as bit (bit)}
				<div class="grid grid-cols-[92px_1fr] items-center gap-3">
					<code>bit {bit} <span class="text-steam">{2 ** Number(bit)}</span></code>
					<ValueEditor
						value={field.codes[bit] ?? ''}
						label="Meaning of bit {bit}"
						wide
						save={(text) => meaning(bit, text)}
					/>
				</div>
			{/each}
		{/if}

		<h3 class="mt-5 flex items-baseline border-b border-line pb-0.5 font-semibold">
			Values in use
			<a
				class="follow ml-auto text-[12px] font-normal text-steam"
				href="/p/{slug}/values/{encodeURIComponent(kind)}/{encodeURIComponent(field.column)}"
				>all {field.different}, with who has them</a
			>
		</h3>
		{#if field.spread}
			<div class="mt-2">
				<Scale spread={field.spread} base={null} mine={null} title={field.path} unit={field.unit} />
				<span class="ml-2 text-[12px] text-steam">{field.spread.min} to {field.spread.max}</span>
			</div>
		{/if}
		{#if field.values.length === 0}
			<p class="mt-1 text-steam">No record has a value there.</p>
		{:else}
			{#each field.values as { value, count } (value)}
				<div class="grid grid-cols-[minmax(60px,1fr)_56px_1.4fr] items-center gap-3 border-b border-line/60">
					<code class="truncate" title={value}>{value || 'nothing'}</code>
					<span class="text-right font-mono text-[12px] text-steam">{count}×</span>
					{#if coded && field.type !== 'flags' && value !== ''}
						<ValueEditor
							value={field.codes[value] ?? ''}
							label="Meaning of {value}"
							wide
							save={(text) => meaning(value, text)}
						/>
					{:else}<span class="min-h-6.5"></span>{/if}
				</div>
			{/each}
		{/if}
	</div>
</section>
