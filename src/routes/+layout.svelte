<script lang="ts">
	import '$ui/app.css';
	import Messages from '$ui/Messages.svelte';
	let { children } = $props();
	// Says that the page listens to keys and clicks now.
	$effect(() => {
		document.documentElement.dataset.ready = 'yes';
	});
</script>

{@render children()}
<Messages />
