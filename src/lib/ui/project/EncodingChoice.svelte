<script lang="ts">
	import { refresh } from '../frame/refresh';
	import type { EncodingView } from '$core/views';
	import { post, say } from '../frame/client.svelte';
	import SnagMark from '../frame/SnagMark.svelte';

	/** How a file's letters are read, how sure that is, and the choice of another reading. */
	let { slug, layer, path, view }: { slug: string; layer: string; path: string; view: EncodingView } =
		$props();

	const percent = (confidence: number) => `${Math.round(confidence * 100)} %`;
	const how = $derived(
		{
			chosen: 'chosen by hand, or as in the layer below',
			mark: 'from the mark at its start',
			declared: 'as the file itself says',
			valid: 'every byte is valid',
			guess: `guessed from its letters, ${percent(view.confidence)} sure`
		}[view.told]
	);
	let waiting = $state(false);

	async function choose(encoding: string) {
		waiting = true;
		try {
			const wanted = encoding === '' ? null : encoding;
			const done = await post<{ encoding: string }>(`/p/${slug}/api/encoding`, {
				layer,
				path,
				encoding: wanted
			});
			await refresh();
			if (wanted !== null && done.encoding !== wanted)
				say(`The bytes of this file are not valid ${wanted}; it is read as ${done.encoding}.`, { bad: true });
			else say(wanted === null ? `Detected: ${done.encoding}` : `Read as ${done.encoding}`);
		} catch (error) {
			say((error as Error).message, { bad: true });
		}
		waiting = false;
	}
</script>

<div class="mt-2 flex flex-wrap items-center gap-x-3 gap-y-1">
	<label class="flex items-center gap-2"
		>Encoding
		<select
			class="box h-7 px-2"
			value={view.told === 'chosen' ? view.encoding : ''}
			disabled={waiting || view.told === 'mark'}
			onchange={(event) => void choose(event.currentTarget.value)}
		>
			<option value="">detected: {view.told === 'chosen' ? 'from its bytes' : view.encoding}</option>
			{#each view.choices as choice (choice.encoding)}
				<option value={choice.encoding}
					>{choice.encoding}{choice.confidence === null ? '' : `, ${percent(choice.confidence)}`}</option
				>
			{/each}
		</select></label
	>
	<span class="text-steam">{how}</span>
	{#if view.unsure}
		<p class="flex w-full items-center gap-2 text-saffron" role="note">
			<SnagMark severity="warns" /> This may not be {view.encoding}. If letters below look wrong, choose
			another encoding; the file itself does not change.
		</p>
	{/if}
</div>
