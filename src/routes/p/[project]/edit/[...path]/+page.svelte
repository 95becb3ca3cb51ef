<script lang="ts">
	import EditText from '$ui/text/EditText.svelte';

	let { data } = $props();
</script>

<!-- Another file is another text, with what was typed over it. -->
{#key data.path}<EditText {data} />{/key}
