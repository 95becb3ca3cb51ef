<script lang="ts">
	import type { AssetView } from '$core/views';
	import { assetAddress, fileAddress } from '../frame/address';

	/** The pictures and sounds of a record: seen and heard where they stand. */
	let { slug, assets }: { slug: string; assets: AssetView[] } = $props();

	/** Those that the browser could not show. */
	let failed = $state<Record<string, boolean>>({});
	/** Listens by itself: a handler in the markup would be an inline script, which no page runs. */
	const watch = (path: string) => (node: HTMLImageElement | HTMLAudioElement) => {
		const fail = () => (failed[path] = true);
		if (node instanceof HTMLImageElement && node.complete && node.naturalWidth === 0) fail();
		node.addEventListener('error', fail);
		return () => node.removeEventListener('error', fail);
	};
	const source = ({ layer, path }: AssetView) => assetAddress(slug, layer ?? '', path);
</script>

<h3 class="mt-6 border-b border-line pb-0.5 font-semibold">Pictures and sounds</h3>
<ul class="mt-2 flex flex-wrap gap-4" data-testid="assets">
	{#each assets as asset (asset.path)}
		<li class="max-w-60 text-[12px]">
			<span class="block text-steam">{asset.label}</span>
			{#if asset.layer === null}
				<span class="block text-saffron">No layer has this file.</span>
			{:else if failed[asset.path]}
				<span class="block text-steam">It cannot be shown here.</span>
			{:else if asset.sort === 'picture'}
				<img
					class="my-1 h-16 max-w-40 rounded border border-line bg-enamel object-contain p-1"
					src={source(asset)}
					alt="{asset.label}: {asset.path}"
					loading="lazy"
					{@attach watch(asset.path)}
				/>
			{:else if asset.sort === 'sound'}
				<audio
					class="my-1 h-8 w-56"
					controls
					preload="none"
					src={source(asset)}
					aria-label="{asset.label}: {asset.path}"
					{@attach watch(asset.path)}
				></audio>
			{/if}
			{#if asset.layer !== null}<a class="follow break-all" href={fileAddress(slug, asset.layer, asset.path)}
					><code>{asset.path}</code></a
				>{:else}<code class="break-all">{asset.path}</code>{/if}
		</li>
	{/each}
</ul>
