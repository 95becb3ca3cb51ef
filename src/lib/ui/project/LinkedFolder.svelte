<script lang="ts">
	import { counted } from '$core/wording';
	import { refresh } from '../frame/refresh';
	import type { KeptPlan } from '$core/change';
	import type { Intention } from '$core/edits';
	import { post, say } from '../frame/client.svelte';
	import PlanDialog from '../plan/PlanDialog.svelte';
	import PlanView from '../plan/PlanView.svelte';

	/** My mod as a folder on disk: written out on demand or at once; what changed there is taken in or left. */
	let {
		slug,
		link,
		root
	}: {
		slug: string;
		root: string;
		link: {
			linked: { folder: string; atOnce: boolean };
			outside: { path: string; both: boolean }[];
			pending: { path: string }[];
			fault: string | null;
			plan: { intention: Intention; plan: KeptPlan } | null;
		} | null;
	} = $props();

	let folder = $state('');
	let atOnce = $state(false);
	let plan = $state<Intention | null>(null);
	let busy = $state(false);
	const count = (files: number) => counted(files, 'file');

	async function ask(body: Record<string, unknown>, said: (files: number) => string) {
		busy = true;
		try {
			const { files } = await post<{ files: number }>(`/p/${slug}/api/linked`, body);
			await refresh();
			say(said(files));
		} catch (error) {
			say((error as Error).message, { bad: true });
		}
		busy = false;
	}
</script>

<div id="linked" class="plate mt-2 px-4 py-3" data-testid="linked">
	{#if link === null}
		<form
			class="flex flex-wrap items-end gap-3"
			onsubmit={(event) => {
				event.preventDefault();
				void ask({ do: 'link', folder, atOnce }, () => 'Linked to the folder');
			}}
		>
			<label class="min-w-80 flex-1"
				>Also keep my mod as a folder on disk<input
					class="box mt-0.5 block w-full font-mono"
					bind:value={folder}
					required
					placeholder="{root}/…"
				/></label
			>
			<label class="flex h-[30px] items-center gap-1.5"
				><input type="checkbox" class="accent-(--copper)" bind:checked={atOnce} />write every change at once</label
			>
			<button class="press" disabled={busy}>Link</button>
		</form>
		<p class="mt-1 text-[12px] text-steam">
			Changes made there by other programs are shown here; nothing is overwritten without asking.
		</p>
	{:else}
		<p class="flex flex-wrap items-center gap-x-3 gap-y-1">
			<span>Linked to <code>{link.linked.folder}</code></span>
			<label class="flex items-center gap-1.5 text-steam"
				><input
					type="checkbox"
					class="accent-(--copper)"
					checked={link.linked.atOnce}
					onchange={(event) =>
						void ask(
							{ do: 'link', folder: link.linked.folder, atOnce: event.currentTarget.checked },
							() => 'Kept'
						)}
				/>write every change at once</label
			>
			<button
				class="follow ml-auto text-steam"
				disabled={busy}
				onclick={() => void ask({ do: 'unlink' }, () => 'Unlinked; the folder stays as it is')}>Unlink</button
			>
		</p>
		{#if link.fault}<p class="mt-2 text-scald" role="alert">{link.fault}</p>{/if}
		{#if link.pending.length > 0}
			<p class="mt-2 flex items-center gap-3">
				<span
					>{count(link.pending.length)} not written yet:
					<code
						>{link.pending
							.slice(0, 4)
							.map(({ path }) => path)
							.join(', ')}</code
					>{link.pending.length > 4 ? '…' : ''}</span
				>
				<button
					class="press"
					disabled={busy}
					onclick={() =>
						void ask({ do: 'write' }, (files) => `${count(files)} written to ${link.linked.folder}`)}
					>Write them</button
				>
			</p>
		{:else if link.outside.length === 0 && !link.fault}<p class="mt-1 text-verdigris">
				Your folder and your mod match.
			</p>{/if}
		{#if link.outside.length > 0 && link.plan}
			<div class="mt-3 border-t border-line pt-3" data-testid="outside-plan">
				<p class="font-semibold">Changed outside</p>
				{#if link.outside.some(({ both }) => both)}<p class="text-scald">
						Your mod changed as well: {link.outside
							.filter(({ both }) => both)
							.map(({ path }) => path)
							.join(', ')}. Importing replaces yours; you can undo it.
					</p>{/if}
				<div class="mt-1 max-h-72 overflow-auto">
					<PlanView plan={link.plan.plan} added={[]} removed={[]} />
				</div>
				<p class="mt-2 flex gap-2">
					<button class="press main" disabled={busy} onclick={() => (plan = link.plan!.intention)}
						>Import these changes</button
					>
					<button
						class="press"
						disabled={busy}
						onclick={() =>
							void ask(
								{ do: 'leave' },
								(files) => `${count(files)} left as they are; your mod overwrites them next time`
							)}>Cancel</button
					>
				</p>
			</div>
		{/if}
	{/if}
</div>
<PlanDialog {slug} bind:intention={plan} />
