<script lang="ts">
	import SnagMark from '$ui/SnagMark.svelte';

	let { data } = $props();
	const size = (bytes: number) =>
		bytes < 1024
			? `${bytes} B`
			: bytes < 2 ** 20
				? `${(bytes / 1024).toFixed(1)} KB`
				: `${(bytes / 2 ** 20).toFixed(1)} MB`;
	const roles: Record<string, string> = {
		base: 'read-only; never edited',
		mod: 'somebody’s mod; read-only',
		mine: 'all changes go here'
	};
</script>

<svelte:head><title>Set up · Kettle Dial</title></svelte:head>
<div class="mx-auto max-w-5xl px-6 py-6">
	<div class="flex items-baseline justify-between">
		<h1>Set up</h1>
		<a class="press" href="/?all">Bring another game in</a>
	</div>
	<p class="mt-1 text-steam">
		{data.guided
			? 'A field guide says what the data means.'
			: 'No field guide yet: kinds and types were told from the files alone; what names what is not known.'}
		{#if data.version}The game says it is version {data.version}.{/if}
		Later layers win over earlier ones.
	</p>
	{#each data.layers as layer, at (at)}
		<section class="mt-6">
			<h2
				class="flex items-baseline gap-3 {layer.role === 'mine'
					? 'text-copper'
					: layer.role === 'mod'
						? 'text-plum'
						: ''}"
			>
				{at + 1}. {layer.title}<span class="text-[13px] font-normal text-steam"
					>{roles[layer.role]} · {layer.files.length} files, {size(layer.bytes)}{#if layer.source}&#32;· from
						<code>{layer.source}</code>{/if}</span
				>
			</h2>
			{#if layer.files.length === 0}
				<p class="mt-2 text-steam">
					Nothing is in it yet. The first change you make puts a file here. <a
						class="follow"
						href="/p/{data.project.slug}/find">Find something to change</a
					>
				</p>
			{:else}
				<!-- svelte-ignore a11y_no_noninteractive_tabindex (a region that scrolls must be reachable by keyboard) -->
				<div
					class="plate mt-2 max-h-96 overflow-auto"
					role="region"
					aria-label="Files of {layer.title}"
					tabindex="0"
				>
					<table class="w-full text-left">
						<thead class="sticky top-0 bg-porcelain text-[12px] text-steam"
							><tr class="border-b border-line"
								><th class="px-3 py-1 font-normal">File</th><th class="font-normal">Read as</th><th
									class="text-right font-normal">Records</th
								><th class="pl-6 font-normal">Encoding, line ends</th><th class="pr-3 text-right font-normal"
									>Size</th
								></tr
							></thead
						>
						<tbody>
							{#each layer.files as file (file.path)}
								<tr class="border-b border-line/60">
									<td class="px-3 py-1"
										><a
											class="follow"
											href="/p/{data.project.slug}/file/{data.layers.indexOf(layer)}/{file.path}"
											><code>{file.path}</code></a
										></td
									>
									<td
										>{file.kind ?? ''}{#if file.problems > 0}<a
												class="follow ml-1 text-scald"
												href="/p/{data.project.slug}/snags">{file.problems} faults</a
											>{:else if !file.kind}<span class="text-steam">{file.state}</span>{/if}</td
									>
									<td class="text-right font-mono">{file.records || ''}</td>
									<td class="pl-6 text-steam"
										>{#if file.unsure}<a
												class="follow mr-1 inline-flex items-center gap-1"
												href="/p/{data.project.slug}/file/{data.layers.indexOf(layer)}/{file.path}"
												><SnagMark severity="warns" />not sure</a
											>{/if}{file.encoding ?? ''}{file.eol && file.eol !== 'none'
											? `, ${file.eol.toUpperCase()}`
											: ''}</td
									>
									<td class="pr-3 text-right font-mono text-steam">{size(file.size)}</td>
								</tr>
							{/each}
						</tbody>
					</table>
				</div>
			{/if}
		</section>
	{/each}
</div>
