<script lang="ts">
	import { counted } from '$core/wording';
	import type { Intention } from '$core/edits';
	import IntoFile from '$ui/ticket/IntoFile.svelte';
	import PlanDialog from '$ui/plan/PlanDialog.svelte';
	import { fileAddress, recordAddress } from '$ui/frame/address';
	import NoteOn from '$ui/frame/NoteOn.svelte';
	import ByteView from '$ui/project/ByteView.svelte';
	import EncodingChoice from '$ui/project/EncodingChoice.svelte';

	let { data } = $props();
	let plan = $state<Intention | null>(null);
	const facts = $derived([
		...(data.encoding
			? [
					`${data.encoding.encoding}${data.bom ? ' with byte-order mark' : ''}`,
					...(data.eol && data.eol !== 'none' ? [data.eol.toUpperCase()] : []),
					counted(data.total, 'line')
				]
			: []),
		`${data.size} bytes`,
		...(data.format ? [`${counted(data.records, 'record')}, read as ${data.format}`] : [])
	]);
	/** The folders on the way to the file, and the file. */
	const parts = $derived.by(() => {
		const names = data.path.split('/');
		return names.map((name, at) => ({
			name,
			path: names.slice(0, at + 1).join('/'),
			folder: at < names.length - 1
		}));
	});
	const address = $derived(data.path.split('/').map(encodeURIComponent).join('/'));
	const fileAt = (layer: string, path: string) => fileAddress(data.slug, layer, path);
	let marked = $state<HTMLElement>();
	const faults = $derived(new Map(data.problems.map((problem) => [problem.line, problem.message])));
	$effect(() => marked?.scrollIntoView({ block: 'center' }));
</script>

<svelte:head><title>{data.path} · Kettle Dial</title></svelte:head>
<div class="flex h-full flex-col px-6 py-4">
	<h1 class="flex flex-wrap items-center font-mono text-[18px]">
		{#each parts as part (part.path)}
			<span class="group inline-flex items-center"
				>{part.name}{part.folder ? '/' : ''}<NoteOn
					on={part.folder ? { folder: part.path } : { file: part.path }}
					quiet={part.folder}
				/></span
			>
		{/each}
	</h1>
	<p class="text-steam">
		<span class={data.owner === 'me' ? 'text-copper' : ''}>{data.layer}</span>
		{facts.map((fact) => `· ${fact}`).join(' ')}
	</p>
	{#if data.patched}
		<p class="mt-1 max-w-2xl">
			This is what the patch <a class="follow font-mono" href={fileAt(data.layerId, data.patched.by)}
				>{data.patched.by}</a
			>
			makes of {#if data.patched.of}<a class="follow" href={fileAt(data.patched.of, data.path)}
					>the file below</a
				>{:else}the file of the same layer{/if}. {#if data.owner === 'me'}To change it, edit the patch.{/if}
		</p>
	{/if}
	{#if data.patches}
		<p class="mt-1 max-w-2xl {data.patches.why ? 'text-saffron' : ''}">
			A patch of {#if data.patches.applied}<a
					class="follow font-mono"
					href={fileAt(data.layerId, data.patches.target)}>{data.patches.target}</a
				>.{:else}<code>{data.patches.target}</code>. It does nothing.{/if}
			{data.patches.why ?? ''}
		</p>
	{/if}
	{#if data.encoding && !data.patched}
		<EncodingChoice slug={data.slug} layer={data.layerId} path={data.path} view={data.encoding} />
	{/if}
	{#if !(data.patched && data.owner === 'me')}
		<p class="mt-1 flex flex-wrap items-center gap-2">
			{#if data.editable}<a
					class="press"
					href="/p/{data.slug}/edit/{address}{data.line === null ? '' : `?line=${data.line}`}"
					>{data.owner === 'me' ? 'Edit text' : data.mine ? 'Edit my version' : 'Edit text in my mod'}</a
				>{/if}
			{#if data.script}<a class="press" href="/p/{data.slug}/inside/{address}">Numbers and texts</a>{/if}
			{#if !data.mine}<button
					class="press"
					onclick={() => (plan = { do: 'file', path: data.path, how: 'take' })}>Add file to my mod</button
				>{/if}
			{#if data.owner === 'me'}<button
					class="press"
					onclick={() => (plan = { do: 'file', path: data.path, how: 'drop' })}>Remove from my mod</button
				>{/if}
			{#if data.owner === 'me' && data.patchable}<a
					class="press slight"
					download
					href="/p/{data.slug}/api/patch?path={encodeURIComponent(data.path)}">Save my changes as a patch</a
				>{/if}
			{#if data.encoding}<a
					class="press slight"
					href="/p/{data.slug}/new?model={encodeURIComponent(data.path)}">New file like this</a
				>{/if}
			<a class="follow" href="/p/{data.slug}/read/{encodeURIComponent(data.layerId)}/{address}"
				>{data.format ? 'Read it in another way…' : 'Read as data…'}</a
			>
		</p>
	{/if}
	{#if data.merge}
		<details class="mt-1 max-w-xl">
			<summary class="cursor-pointer text-steam"
				>Merge it into another file that the game reads together with it</summary
			>
			<div class="mt-1">
				<IntoFile
					kind={data.merge.kind}
					ids={data.merge.ids}
					from={data.path}
					others={data.merge.others}
					plan={(intention) => (plan = intention)}
				/>
			</div>
		</details>
	{/if}
	{#if data.bytes}
		{#each data.problems.slice(0, 5) as problem (`${problem.line} ${problem.column} ${problem.message}`)}
			<p class="text-scald">{problem.message}</p>
		{/each}
		<ByteView
			page={data.bytes}
			layout={data.format !== null}
			linkTo={(kind, id) => recordAddress(data.slug, kind, id)}
			go={(at) => `${fileAt(data.layerId, data.path)}?at=${at}`}
		/>
	{:else if data.lines}
		<!-- svelte-ignore a11y_no_noninteractive_tabindex (a region that scrolls must be reachable by keyboard) -->
		<div
			class="plate mt-3 min-h-0 flex-1 overflow-auto py-2 font-mono text-[12px] leading-[18px]"
			role="region"
			aria-label="Lines of the file"
			tabindex="0"
		>
			{#each data.lines as text, at (at)}
				{@const number = data.first + at}
				{#if number === data.line}
					<div bind:this={marked} class="flex w-max min-w-full gap-3 border-l-4 border-brass bg-wash px-2">
						<span class="w-10 shrink-0 text-right select-none">{number}</span><span class="whitespace-pre"
							>{text.replaceAll('\t', ' → ')}</span
						>
					</div>
				{:else}
					<div class="flex w-max min-w-full gap-3 border-l-4 border-transparent px-2">
						<span class="w-10 shrink-0 text-right text-steam select-none">{number}</span><span
							class="whitespace-pre">{text.replaceAll('\t', ' → ')}</span
						>
					</div>
				{/if}
				{#if faults.has(number)}<p class="ml-15 font-sans text-scald">{faults.get(number)}</p>{/if}
			{/each}
		</div>
	{/if}
</div>
<PlanDialog slug={data.slug} bind:intention={plan} leadsTo={`/p/${data.slug}/ledger`} />
