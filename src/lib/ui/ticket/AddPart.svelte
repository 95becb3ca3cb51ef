<script lang="ts">
	import type { MissingView } from '$core/views';
	import { counted } from '$core/wording';
	import { applyIntention } from '../frame/client.svelte';

	/** Adds a block, list or field that others of the kind have, like that of one of them. */
	let { slug, kind, id, missing }: { slug: string; kind: string; id: string; missing: MissingView[] } =
		$props();

	let path = $state('');
	let like = $state('');
	const part = $derived(missing.find((one) => one.path === path) ?? missing[0]);
	const model = $derived(part?.models.find((one) => one.id === like) ?? part?.models[0]);

	async function add(event: SubmitEvent) {
		event.preventDefault();
		if (!part || !model) return;
		const at = part.path;
		if (
			await applyIntention(slug, { do: 'part', kind, id, path: at, change: { how: 'add', like: model.id } })
		)
			document
				.querySelector<HTMLElement>(
					`[data-block="${CSS.escape(at)}"] [data-edit], [data-list="${CSS.escape(at)}"] [data-edit], [data-field="${CSS.escape(at)}"] [data-edit]`
				)
				?.focus();
	}
	const SHAPES = { field: 'field', block: 'block', list: 'list' };
</script>

{#if part}
	<form
		class="mt-3 flex flex-wrap items-center gap-2 text-[12px] text-steam"
		onsubmit={add}
		data-testid="add-part"
	>
		<label class="flex items-center gap-1"
			>Add
			<select class="box h-6.5" bind:value={() => part.path, (next) => ((path = next), (like = ''))}>
				{#each missing as one (one.path)}
					<option value={one.path}
						>{one.title} ({SHAPES[one.shape]}, {counted(one.count, 'record has', 'records have')} it)</option
					>
				{/each}
			</select></label
		>
		<label class="flex items-center gap-1"
			>like that of
			<select class="box h-6.5" bind:value={() => model?.id ?? '', (next) => (like = next)}>
				{#each part.models as one (one.id)}<option value={one.id}>{one.name}</option>{/each}
			</select></label
		>
		<button class="press">Add to this record</button>
	</form>
{/if}
