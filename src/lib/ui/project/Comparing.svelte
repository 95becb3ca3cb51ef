<script lang="ts">
	import { counted } from '$core/wording';

	/** How far the comparison of two versions of the game is, while nothing can be shown yet. */
	let { slug, to, records }: { slug: string; to: string; records: number } = $props();

	let share = $state(0);
	$effect(() => {
		const [address, every] = [`/p/${slug}/api/carry?share&to=${to}`, 300];
		share = 0;
		const timer = setInterval(() => {
			void fetch(address)
				.then((answer) => (answer.ok ? answer.json() : null))
				.then((told: { share: number } | null) => (share = told?.share ?? share))
				// What cannot be asked for now is asked for again.
				.catch(() => undefined);
		}, every);
		return () => clearInterval(timer);
	});
</script>

<div class="plate mt-4 p-6" role="status">
	<p>Comparing {counted(records, 'record')} of both versions…</p>
	<progress class="mt-2 w-full max-w-md accent-(--brass)" max="1" value={share} aria-label="Compared so far"
	></progress>
	<p class="text-[13px] text-steam">{Math.round(share * 100)} %. You can leave this page meanwhile.</p>
</div>
