<script lang="ts">
	import { counted, sizeOf } from '$core/wording';
	import { post, say } from '$ui/frame/client.svelte';
	import { refresh } from '$ui/frame/refresh';

	/** What of my mod is in the game's folder now, and what was there before. */
	let { data } = $props();
	const slug = $derived(data.slug);
	let busy = $state(false);

	const when = (at: string) => new Date(at).toLocaleString([], { dateStyle: 'medium', timeStyle: 'short' });
	const STATES = {
		whole: 'as installed',
		changed: 'changed since by another program',
		missing: 'missing',
		'not wanted': 'there again'
	} as const;
	const odd = $derived(data.files.filter(({ state }) => state !== 'whole').length);
	const whatOf = ({ before, after }: { before: string | null; after: string | null }) =>
		after === null ? 'set aside' : before === null ? 'new' : before === after ? 'the same' : 'replaced';
	const short = (digest: string | null) => digest?.slice(0, 10) ?? 'no file';
	/** The newest backup whose mod was removed. */
	const last = $derived(data.backups.find(({ proof }) => proof !== null) ?? null);
	const wrong = $derived(last?.proof?.filter(({ before, now }) => before !== now) ?? []);

	async function doing(work: () => Promise<string>): Promise<void> {
		busy = true;
		try {
			say(await work());
		} catch (error) {
			say((error as Error).message, { bad: true });
		}
		await refresh();
		busy = false;
	}

	const remove = () =>
		doing(async () => {
			const { files, whole, aside } = await post<{ files: number; whole: boolean; aside: number }>(
				`/p/${slug}/api/restore`,
				{}
			);
			const kept = aside > 0 ? ` ${counted(aside, 'file')} of other programs kept in the backup.` : '';
			return whole
				? `Removed. As it was, byte for byte: ${counted(files, 'file')}.${kept}`
				: `Removed, but not everything is as it was; see the list.${kept}`;
		});

	const drop = (id: string) =>
		doing(async () => {
			await post(`/p/${slug}/api/backups`, { do: 'delete', id });
			return 'Deleted the backup';
		});
</script>

<svelte:head><title>In the game · Kettle Dial</title></svelte:head>
<div class="mx-auto max-w-5xl px-6 py-5">
	<p class="text-steam"><a class="follow" href="/p/{slug}/trial">Trial</a></p>
	<h1>In the game</h1>
	{#if data.installed}
		<p class="mt-1">
			Your mod is in <code>{data.installed.folder}</code>{#if !data.installed.over}, in
				<code>{data.installed.mod}</code>{/if}, since {when(data.installed.at)}.
			{#if odd === 0}<span class="text-verdigris">Everything is as installed.</span>{:else}<span
					class="text-saffron">{counted(odd, 'file')} not as installed.</span
				>{/if}
		</p>
		<p class="mt-3">
			<button class="press" disabled={busy} onclick={() => void remove()}>Remove from the game</button>
		</p>
		<div class="plate mt-4 overflow-x-auto">
			<table class="w-full text-left" aria-label="Files in the game">
				<thead class="text-[12px] text-steam"
					><tr
						><th class="px-4 py-1.5 font-normal">File</th><th class="pr-4 font-normal">Change</th><th
							class="pr-4 font-normal">Before</th
						><th class="pr-4 font-normal">Installed</th><th class="pr-4 font-normal">Now</th></tr
					></thead
				>
				<tbody>
					{#each data.files as file (file.path)}
						<tr class="border-t border-line"
							><td class="px-4 py-1.5 break-all"><code>{file.path}</code></td><td class="pr-4"
								>{whatOf(file)}</td
							><td class="pr-4"
								><code class="text-[12px] text-steam" title={file.before}>{short(file.before)}</code></td
							><td class="pr-4"
								><code class="text-[12px] text-steam" title={file.after}>{short(file.after)}</code></td
							><td class="pr-4 {file.state === 'whole' ? 'text-steam' : 'text-saffron'}"
								>{STATES[file.state]}</td
							></tr
						>
					{/each}
				</tbody>
			</table>
		</div>
	{:else}
		<div class="plate mt-4 p-5">
			<p class="font-semibold">Your mod is not in the game’s folder now.</p>
			<p class="mt-1 text-steam">
				{#if data.ready}The page <a class="follow" href="/p/{slug}/trial">Trial</a> installs it, after a backup
					of every file that it touches.{:else}Say first
					<a class="follow" href="/p/{slug}/start">how your game is started</a>.{/if}
			</p>
		</div>
		{#if last?.proof}
			<section class="mt-5" aria-label="The last removal">
				<h2>
					{#if wrong.length === 0}<span class="text-verdigris">As it was, byte for byte</span>{:else}<span
							class="text-scald">{counted(wrong.length, 'file')} not as before</span
						>{/if}
				</h2>
				<p class="text-steam">
					Digests of {counted(last.proof.length, 'file')} that the last installation touched, taken before it and
					after its removal.
				</p>
				<div class="plate mt-2 overflow-x-auto">
					<table class="w-full text-left">
						<thead class="text-[12px] text-steam"
							><tr
								><th class="px-4 py-1.5 font-normal">File</th><th class="pr-4 font-normal">Before</th><th
									class="pr-4 font-normal">After removal</th
								></tr
							></thead
						>
						<tbody>
							{#each last.proof as file (file.path)}
								<tr class="border-t border-line {file.before === file.now ? '' : 'text-scald'}"
									><td class="px-4 py-1.5 break-all"><code>{file.path}</code></td><td class="pr-4"
										><code class="text-[12px]" title={file.before}>{short(file.before)}</code></td
									><td class="pr-4"><code class="text-[12px]" title={file.now}>{short(file.now)}</code></td
									></tr
								>
							{/each}
						</tbody>
					</table>
				</div>
			</section>
		{/if}
	{/if}

	<section class="mt-6" aria-label="Backups">
		<h2>Backups</h2>
		{#if data.backups.length === 0}<p class="text-steam">None yet. The first installation makes one.</p>{/if}
		<ul class="mt-1 grid gap-2">
			{#each data.backups as backup (backup.id)}
				<li class="plate flex flex-wrap items-baseline gap-x-3 px-4 py-2">
					<span class="font-semibold">{when(backup.at)}</span>
					<span
						>{counted(backup.files, 'file')}, {sizeOf(backup.bytes)}{#if backup.aside.length > 0}, {counted(
								backup.aside.length,
								'file'
							)} of other programs{/if}</span
					>
					<code class="order-last w-full min-w-0 text-[12px] break-all text-steam">{backup.place}</code>
					<span class="ml-auto">
						{#if backup.inUse}<span class="text-steam">needed to remove your mod</span>{:else}<button
								class="press slight"
								disabled={busy}
								aria-label="Delete the backup of {when(backup.at)}"
								onclick={() => void drop(backup.id)}>Delete</button
							>{/if}
					</span>
				</li>
			{/each}
		</ul>
	</section>

	{#if data.others.length > 0}
		<section class="mt-6" aria-label="Other mods">
			<h2>Other mods that Kettle Dial put into games</h2>
			<ul class="mt-1">
				{#each data.others as other (other.folder + other.name + (other.project ?? ''))}
					<li class="py-0.5">
						<span class="font-semibold">{other.name}</span>, {counted(other.files, 'file')} in
						<code>{other.folder}</code>,
						<span class="text-steam"
							>{#if other.project}by <a class="follow" href="/p/{other.project}/game"
									>the project {other.project}</a
								>{:else}by <code>kettle install</code>{/if}</span
						>
					</li>
				{/each}
			</ul>
		</section>
	{/if}
</div>
