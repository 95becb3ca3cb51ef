<script lang="ts">
	import '$ui/app.css';
	import Messages from '$ui/Messages.svelte';
	let { children } = $props();
</script>

{@render children()}
<Messages />
