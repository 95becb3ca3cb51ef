<script lang="ts">
	import type { Ticket } from '$core/views';
	import { fileAddress } from '../frame/address';

	/** Lines of scripts and texts that hold an id, each leading to its file. */
	let { slug, mentions }: { slug: string; mentions: Ticket['mentions'] } = $props();
</script>

<ul class="mt-1" data-testid="mentions">
	{#each mentions.lines as { layer, path, line, text } (`${layer} ${path} ${line}`)}
		<li class="flex min-w-0 items-baseline gap-3 py-0.5">
			<a class="follow shrink-0" data-move href={fileAddress(slug, layer, path, line)}>{path}:{line}</a>
			<code class="min-w-0 truncate text-[12px] text-steam">{text}</code>
		</li>
	{/each}
</ul>
{#if mentions.count > mentions.lines.length}<p class="mt-1 text-steam">
		The first {mentions.lines.length} of {mentions.count} lines are listed.
	</p>{/if}
