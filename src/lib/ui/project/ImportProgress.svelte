<script lang="ts">
	import type { ImportState } from '$core/views';

	/** How far an import or a verification is: bytes, files, what is being read; it can be cancelled. */
	let { id, done }: { id: string; done: (state: ImportState) => void } = $props();

	let now = $state<ImportState | null>(null);
	let lost = $state(false);
	const megabytes = (bytes: number) => (bytes / 2 ** 20).toFixed(1);

	$effect(() => {
		const wanted = id;
		let going = true;
		void (async () => {
			while (going) {
				const answer = await fetch(`/imports/${wanted}`).catch(() => null);
				lost = !answer?.ok;
				if (answer?.ok) now = (await answer.json()) as ImportState;
				if (now && now.state !== 'waiting' && now.state !== 'working') {
					if (going) done(now);
					return;
				}
				await new Promise((next) => setTimeout(next, 250));
			}
		})();
		return () => (going = false);
	});
</script>

<div role="status" data-testid="progress">
	<progress
		class="w-full accent-(--brass)"
		max={Math.max(1, now?.bytes_total ?? 1)}
		value={now?.bytes_done ?? 0}
		aria-label="Progress"
	></progress>
	<p class="flex justify-between gap-4 text-steam">
		<span class="truncate"
			>{lost
				? 'The server is not responding. Nothing done so far is lost.'
				: now?.state === 'waiting'
					? 'Waiting'
					: (now?.reading ?? 'Getting ready')}</span
		><span class="shrink-0"
			>{now?.files_done ?? 0} of {now?.files_total ?? 0} files, {megabytes(now?.bytes_done ?? 0)} of {megabytes(
				now?.bytes_total ?? 0
			)} MB</span
		>
	</p>
	<button type="button" class="press mt-1" onclick={() => void fetch(`/imports/${id}`, { method: 'DELETE' })}
		>Cancel</button
	>
</div>
