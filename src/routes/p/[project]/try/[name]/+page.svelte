<script lang="ts">
	import TryEvent from '$ui/text/TryEvent.svelte';

	let { data } = $props();
</script>

{#key data.name}<TryEvent {data} />{/key}
