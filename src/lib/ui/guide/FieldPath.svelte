<script lang="ts">
	/** The path of a field. Where there is little room its beginning is left out: its end says what the field is. */
	let { path }: { path: string } = $props();
</script>

<code class="block min-w-0 truncate text-left" dir="rtl" title={path}><bdi dir="ltr">{path}</bdi></code>
