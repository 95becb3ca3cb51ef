<script lang="ts">
	import type { PartsView } from '$core/views';

	/** An id for a new record, checked as typed: taken, of the wrong form, too long, alike but for its case. */
	let {
		slug,
		kind,
		id,
		value = $bindable(''),
		label = 'New id',
		parts = $bindable(null)
	}: {
		slug: string;
		kind: string;
		id: string;
		value: string;
		label?: string;
		/** What would come with a copy; and whether the id is right. */
		parts?: PartsView | null;
	} = $props();

	$effect(() => {
		const typed = value.trim();
		const address = `/p/${slug}/api/parts/${encodeURIComponent(kind)}/${encodeURIComponent(id)}?new=${encodeURIComponent(typed)}`;
		let asked = true;
		const timer = setTimeout(async () => {
			const answer = await fetch(address).catch(() => null);
			const told = answer?.ok ? ((await answer.json()) as PartsView) : null;
			if (told && asked) parts = told;
		}, 80);
		return () => {
			asked = false;
			clearTimeout(timer);
		};
	});
	const wrong = $derived(value.trim() !== '' && parts?.fault ? parts.fault : '');
</script>

<label class="block"
	>{label}<input
		class="box mt-1 block w-full font-mono"
		bind:value
		required
		pattern="\S+"
		title="an id without spaces"
		placeholder={id}
		aria-invalid={wrong !== ''}
		aria-describedby="new-id-said"
	/></label
>
<p id="new-id-said" class="min-h-5 text-[12px] {wrong ? 'text-scald' : 'text-steam'}" role="status">
	{wrong || (parts?.longest ? `${value.trim().length} of ${parts.longest} letters` : '')}
</p>
