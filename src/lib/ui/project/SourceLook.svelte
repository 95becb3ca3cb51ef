<script lang="ts">
	import { counted, numbered } from '$core/wording';
	import type { SourcePreview } from '$core/views';
	import { makePause } from '../frame/pause';

	/** What importing a folder or an archive would read: files, sizes, formats, what is left out. */
	let { path }: { path: string } = $props();

	let look = $state<SourcePreview | null>(null);
	let fault = $state('');
	const pause = makePause();
	const size = (bytes: number) =>
		bytes < 2 ** 20
			? `${numbered(Math.ceil(bytes / 1024))} KB`
			: `${numbered(Math.round(bytes / 2 ** 20))} MB`;

	$effect(() => {
		const wanted = path.trim();
		look = null;
		fault = '';
		if (wanted === '') return;
		pause.after(async () => {
			const answer = await fetch(`/api/folders?look&path=${encodeURIComponent(wanted)}`).catch(() => null);
			if (wanted !== path.trim() || !answer) return;
			if (answer.ok) look = (await answer.json()) as SourcePreview;
			else fault = ((await answer.json()) as { message: string }).message;
		}, 300);
	});
</script>

{#if fault}
	<p class="mt-1 text-[13px] text-scald">{fault}</p>
{:else if look}
	<div class="mt-1 rounded-lg border border-line px-3 py-2 text-[13px]" data-testid="source-look">
		<p>
			{counted(look.files, 'file')}, {size(look.bytes)}.
			{#if look.files === 0}<span class="text-scald">There is nothing to import in here.</span>{/if}
			{#if look.guide}<span class="text-verdigris"
					>Field guide found beside it: <code>{look.guide}</code>.</span
				>{/if}
		</p>
		<p class="flex flex-wrap gap-x-3 text-steam">
			{#each look.sorts as sort (sort.ending)}<span
					><b class="font-normal text-rim">{sort.ending === '' ? 'no ending' : `.${sort.ending}`}</b>
					{numbered(sort.files)}{sort.data ? ', data' : ''}</span
				>{/each}
			{#if look.otherSorts > 0}<span>{counted(look.otherSorts, 'other ending')}</span>{/if}
		</p>
		<p class="text-steam">
			Other files are read too if their content is recognised. Pictures and sounds are listed by name.
		</p>
		{#if look.large > 0}<p class="text-steam">
				{counted(look.large, 'file is', 'files are')} larger than {size(look.largest)}: listed by digest, not
				opened.
			</p>{/if}
		{#each look.left as left (left)}<p class="text-steam">Left out: {left}</p>{/each}
	</div>
{/if}
