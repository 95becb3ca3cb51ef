<script lang="ts">
	import { counted, listed, numbered } from '$core/wording';

	/** The first sight of a game: what was understood of it, and what to do next. */
	let { data } = $props();
	const slug = $derived(data.project.slug);
	const first = $derived(data.first);
	const readAddress = (layer: string, path: string) =>
		`/p/${slug}/read/${encodeURIComponent(layer)}/${path.split('/').map(encodeURIComponent).join('/')}`;
</script>

<svelte:head><title>First sight of {data.project.title} · Kettle Dial</title></svelte:head>
<div class="mx-auto max-w-5xl px-6 py-6">
	<h1>{data.project.title} at first sight</h1>
	<p class="mt-1 text-steam">
		{#if first.allKinds === 0}No file of this game could be read as data yet.
		{:else}Everything here was worked out from the files alone, or comes from a field guide. Nothing in the
			game was changed.{/if}
	</p>

	<ol class="mt-4 grid grid-cols-3 gap-3" aria-label="Next steps">
		{#each first.steps as step, nth (step.href)}
			<li>
				<a class="plate block h-full px-4 py-3 hover:bg-wash" href="/p/{slug}/{step.href}">
					<span class="block font-semibold"
						><span class="mr-2 font-mono text-brass">{nth + 1}</span>{step.title}</span
					>
					<span class="text-[13px] text-steam">{step.about}</span>
				</a>
			</li>
		{/each}
	</ol>

	<div class="mt-6 grid grid-cols-2 gap-6">
		<section aria-labelledby="understood">
			<h2 id="understood">What was understood</h2>
			<dl class="plate mt-1 grid grid-cols-[auto_1fr] gap-x-3 px-4 py-3">
				{#each first.lines as line (line.what)}
					<dt class="text-right font-mono {line.open ? 'text-saffron' : ''}">{numbered(line.count)}</dt>
					<dd>{line.what}</dd>
				{/each}
				{#if first.languages.length > 0}
					<dt class="text-right font-mono">{numbered(first.texts)}</dt>
					<dd><a class="follow" href="/p/{slug}/words">texts in {listed(first.languages)}</a></dd>
				{:else}
					<dt class="text-right font-mono text-steam">0</dt>
					<dd>texts for players were recognised</dd>
				{/if}
			</dl>
		</section>
		<section aria-labelledby="kinds">
			<h2 id="kinds">The largest tables</h2>
			<ul class="plate mt-1 px-4 py-3">
				{#each first.kinds as kind (kind.kind)}
					<li class="flex justify-between gap-3">
						<a class="follow truncate" href="/p/{slug}/tables/{encodeURIComponent(kind.kind)}">{kind.title}</a
						>
						<span class="font-mono text-steam">{numbered(kind.records)}</span>
					</li>
				{:else}
					<li class="text-steam">There are none yet. Say how one of the files below is read.</li>
				{/each}
				{#if first.allKinds > first.kinds.length}<li class="mt-1">
						<a class="follow" href="/p/{slug}/tables">All {numbered(first.allKinds)} tables</a>
					</li>{/if}
			</ul>
		</section>
		<section aria-labelledby="references">
			<h2 id="references">What refers to what</h2>
			<ul class="plate mt-1 px-4 py-3">
				{#each first.references as one (one.kind + one.path)}
					<li class="flex items-baseline gap-2">
						<span class="min-w-0 flex-1 truncate"
							><a
								class="follow"
								href="/p/{slug}/guide/{encodeURIComponent(one.kind)}?field={encodeURIComponent(one.path)}"
								>{one.title}: {one.field}</a
							>
							refers to {listed(one.targets)}{one.more > 0
								? ` and ${counted(one.more, 'other kind')}`
								: ''}</span
						>
						<span class="shrink-0 text-[12px] text-steam"
							>{counted(one.count, 'value')}, {one.sure === null
								? 'from a guide'
								: `${Math.floor(one.sure * 100)} % sure`}</span
						>
					</li>
				{:else}
					<li class="text-steam">No field was found that refers to other records.</li>
				{/each}
			</ul>
		</section>
		<section aria-labelledby="review">
			<h2 id="review">Check these first</h2>
			<ul class="plate mt-1 px-4 py-3">
				{#each first.review as one (one.kind + one.field)}
					<li class="flex items-baseline gap-2">
						<a
							class="follow min-w-0 flex-1 truncate"
							href="/p/{slug}/guide/{encodeURIComponent(one.kind)}?field={encodeURIComponent(one.field)}"
							>{one.title}: {one.field}</a
						>
						<span class="shrink-0 text-[12px] text-steam"
							>{Math.floor(one.sure * 100)} % sure{one.hangs > 0
								? `, ${counted(one.hangs, 'value')}`
								: ''}</span
						>
					</li>
				{:else}
					<li class="text-steam">Nothing important is unsure.</li>
				{/each}
			</ul>
			<h2 class="mt-4">Not read as data</h2>
			<ul class="plate mt-1 px-4 py-3">
				{#each first.unread.files as file (file.layer + file.path)}
					<li class="truncate">
						<a class="follow font-mono text-[13px]" href={readAddress(file.layer, file.path)}>{file.path}</a>
					</li>
				{:else}
					<li class="text-steam">Every text file is read as data.</li>
				{/each}
				{#if first.unread.count > first.unread.files.length}<li class="text-steam">
						and {counted(first.unread.count - first.unread.files.length, 'more text file')}; see
						<a class="follow" href="/p/{slug}/setup">Set up</a>
					</li>{/if}
			</ul>
		</section>
	</div>
</div>
