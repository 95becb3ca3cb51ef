<script lang="ts">
	import type { CodePlace } from '$core/views';
	import { fileAddress } from '$ui/frame/address';

	/** Lines of scripts in a row, each a link to its file. */
	let { slug, places }: { slug: string; places: CodePlace[] } = $props();
</script>

{#each places as { layer, path, line }, nth (nth)}{nth > 0 ? ', ' : ''}<a
		class="follow"
		href={fileAddress(slug, layer, path, line)}>{path.replace(/^.*\//, '')}:{line}</a
	>{/each}
