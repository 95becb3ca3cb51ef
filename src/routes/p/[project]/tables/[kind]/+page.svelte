<script lang="ts">
	import TablePage from '$ui/table/TablePage.svelte';

	let { data } = $props();
</script>

<TablePage slug={data.project.slug} rows={data} />
