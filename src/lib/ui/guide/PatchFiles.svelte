<script lang="ts">
	// Files of mods that are patches of other files: where they lie, and how they say what they change.
	import type { GuideIndexView } from '$core/views';
	import { changeGuide } from './change';

	let { slug, patches }: { slug: string; patches: GuideIndexView['patches'] } = $props();
	const FORMS = {
		'json-patch': 'a list of operations (JSON Patch, RFC 6902)',
		'merge-patch': 'a document to merge in (JSON Merge Patch, RFC 7396)'
	} as const;
	let files = $state('');
	let form = $state<keyof typeof FORMS>('json-patch');
	const say = (next: GuideIndexView['patches']) => changeGuide(slug, { do: 'patches', patches: next });
	async function add(event: SubmitEvent) {
		event.preventDefault();
		if (await say([...patches, { files: files.trim(), form }])) files = '';
	}
</script>

<h2 class="mt-6">Patch files</h2>
<p class="max-w-3xl text-[12px] text-steam">
	Some games let a mod bring a list of changes to a JSON file instead of the whole file. Enter where such
	files lie: <code>{'{path}'}</code> stands for the path of the file that is changed.
</p>
{#if patches.length > 0}
	<ul class="plate mt-2">
		{#each patches as patch (patch.files)}
			<li class="flex items-center gap-3 border-b border-line/60 px-4 py-1">
				<code>{patch.files}</code>
				<span class="flex-1 text-steam">{FORMS[patch.form]}</span>
				<button
					class="press slight"
					aria-label="Remove {patch.files}"
					onclick={() => void say(patches.filter((other) => other !== patch))}>Remove</button
				>
			</li>
		{/each}
	</ul>
{/if}
<form class="mt-2 flex flex-wrap items-center gap-2" onsubmit={add}>
	<input
		class="box w-56 font-mono"
		aria-label="Path of patch files"
		placeholder={'{path}.patch'}
		bind:value={files}
	/>
	<select class="box" aria-label="Form of patch files" bind:value={form}>
		{#each Object.entries(FORMS) as [value, words] (value)}<option {value}>{words}</option>{/each}
	</select>
	<button class="press" disabled={!files.includes('{path}')}>Add</button>
</form>
