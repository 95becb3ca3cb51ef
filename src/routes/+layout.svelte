<script lang="ts">
	import '$ui/frame/app.css';
	import Messages from '$ui/frame/Messages.svelte';
	import { afterNavigate } from '$app/navigation';
	import { page } from '$app/state';

	let { children } = $props();
	// Says that the page that was asked for is there, and listens to keys and clicks now.
	afterNavigate(() => {
		if (!page.route.id?.startsWith('/opening')) document.documentElement.dataset.ready = 'yes';
	});
</script>

{@render children()}
<Messages />
