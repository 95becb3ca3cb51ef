<script lang="ts">
	import { goto } from '$app/navigation';
	import { refresh } from '$ui/frame/refresh';
	import { page } from '$app/state';
	import { counted } from '$core/wording';
	import { fileAddress, withTicket } from '$ui/frame/address';
	import SnagMark from '$ui/frame/SnagMark.svelte';
	import LessonOffer from '$ui/guide/LessonOffer.svelte';
	import { post, say } from '$ui/frame/client.svelte';
	import { setOnChange, tries } from '$ui/frame/tries.svelte';

	let { data } = $props();
	const running = $derived(tries.running);
	const refusals = $derived(data.shown?.lines.filter((line) => line.refusal).length ?? 0);
	const heldInWords = (foretold: number, all: number): string =>
		foretold === all
			? all === 1
				? 'A snag foretold the refusal.'
				: `Snags foretold all ${all} refusals.`
			: foretold === 0
				? all === 1
					? 'No snag foretold the refusal.'
					: `No snag foretold any of the ${all} refusals.`
				: `Snags foretold ${foretold} of ${all} refusals.`;
	const clean = $derived(data.shown?.status === 0 && refusals === 0);
	/** How a trial went, in a few words. */
	const outcome = (status: number | null, refused: number): string =>
		refused > 0
			? `${refused} refused`
			: status === 0
				? 'Loaded cleanly'
				: status === null
					? 'The game did not end on its own'
					: `The game ended with status ${status}`;
	const when = (at: string) => new Date(at).toLocaleString([], { dateStyle: 'short', timeStyle: 'medium' });

	async function start() {
		const own = new AbortController();
		tries.running = own;
		try {
			const { trial } = await post<{ trial: number }>(`/p/${data.project.slug}/api/trial`, {}, own.signal);
			await goto(`/p/${data.project.slug}/trial?trial=${trial}`, { invalidateAll: true, noScroll: true });
		} catch (error) {
			say((error as Error).message, { bad: true });
		} finally {
			if (tries.running === own) tries.running = null;
		}
	}

	/** The line that one was on, without what differs from start to start: a new log opens at the same. */
	let marked = $state<string | null>(null);
	const bare = (text: string) => text.replace(/\d+/g, '#');
	const markedAt = $derived(
		marked === null ? -1 : (data.shown?.lines.findIndex(({ text }) => bare(text) === marked) ?? -1)
	);
	$effect(() => {
		void data.shown?.id;
		if (markedAt >= 0) document.getElementById(`line-${markedAt}`)?.scrollIntoView({ block: 'center' });
	});

	async function putBack() {
		try {
			const { mod, whole } = await post<{ mod: string; whole: boolean }>(
				`/p/${data.project.slug}/api/restore`,
				{}
			);
			await refresh();
			say(
				whole
					? `Removed ${mod === '.' ? 'your mod' : mod} from the game’s folder. It is as it was, byte for byte.`
					: 'Removed, but not everything is as it was: see In the game.',
				whole ? {} : { bad: true }
			);
		} catch (error) {
			say((error as Error).message, { bad: true });
		}
	}
</script>

<svelte:head><title>Trial · Kettle Dial</title></svelte:head>
<div class="mx-auto max-w-4xl px-6 py-6">
	<h1>Trial</h1>
	{#if !data.ready}
		<div class="plate mt-4 p-6">
			<p class="font-semibold">Not set up yet: tell Kettle Dial how to install and start this game.</p>
			<p class="mt-1 text-steam">You can download the pack and install it by hand.</p>
			<p class="mt-3 flex gap-3">
				<a class="press main" href="/p/{data.project.slug}/start">Set it up</a><a
					class="press"
					href="/p/{data.project.slug}/pack">Go to the pack</a
				>
			</p>
		</div>
	{:else}
		<p class="mt-1 text-steam">
			Backs up what is installed, installs the pack into <code>{data.folder}</code>, starts the game and reads
			its log. <a class="follow" href="/p/{data.project.slug}/start">How it is started</a>
		</p>
		<p class="mt-3 flex items-center gap-3">
			<button class="press main" disabled={running !== null} onclick={start} data-testid="start-trial"
				>Install and start the game</button
			>
			<label class="flex items-center gap-2"
				><input
					type="checkbox"
					class="accent-(--rim)"
					checked={tries.onChange}
					onchange={(event) => setOnChange(data.project.slug, event.currentTarget.checked)}
				/>on each change</label
			>
			{#if data.installed}<button class="press" disabled={running !== null} onclick={putBack}
					>Remove from the game</button
				>{/if}
			{#if running}<progress aria-label="The game is running" class="w-40 accent-(--brass)"></progress><button
					class="press slight"
					onclick={() => running?.abort()}>Cancel</button
				>{/if}
		</p>
		<p class="mt-2 text-steam" data-testid="installed">
			{#if data.installed}Your mod is installed in {#if data.installed.mod === '.'}the game’s folder{:else}<code
						>{data.installed.mod}</code
					> of the game’s folder{/if}.{:else}Your mod is not installed in the game’s folder now.{/if}
			<a class="follow" href="/p/{data.project.slug}/game">Files, backups and proof</a> ·
			<a class="follow" href="/p/{data.project.slug}/scenarios">What does my change do?</a>
		</p>
		{#if data.shown}
			<section class="plate mt-5" aria-label="Outcome">
				<header class="flex items-baseline gap-3 border-b border-line px-4 py-3">
					<span
						class="text-[16px] font-semibold {clean ? 'text-verdigris' : 'text-scald'}"
						data-testid="outcome">{outcome(data.shown.status, refusals)}</span
					>
					<span class="text-steam"
						>{when(data.shown.at)} · {counted(data.shown.files, 'file')}{#if data.shown.took}, {data.shown
								.took.written}
							written · pack {data.shown.took.pack} ms, install {data.shown.took.install} ms, ran{:else}
							installed · ran{/if}
						{data.shown.milliseconds} ms</span
					>
				</header>
				{#if data.shown.held && (refusals > 0 || data.shown.held.unseen.length > 0)}<p
						class="border-b border-line px-4 py-2"
						data-testid="held"
					>
						{#if refusals > 0}{heldInWords(data.shown.held.foretold, refusals)}{/if}
						{#if data.shown.held.unseen.length > 0}This log does not mention {counted(
								data.shown.held.unseen.length,
								'snag'
							)} that should block.{/if}
					</p>{/if}
				{#if !clean}<p class="border-b border-line px-4 py-2">
						<a class="follow" href="/p/{data.project.slug}/narrow">Narrow it down</a>
						<span class="text-steam"
							>to the changes that cause it, by starting the game with only some of them</span
						>
					</p>{/if}
				{#if data.shown.lines.length === 0}<p class="px-4 py-3 text-steam">The game wrote no log.</p>{/if}
				{#if marked !== null && markedAt < 0}<p class="px-4 pt-3" data-testid="line-gone">
						The line that you were on is not in this log.
					</p>{/if}
				<ol class="py-2 font-mono text-[12px]" data-testid="log">
					{#each data.shown.lines as line, at (at)}
						<!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_noninteractive_element_interactions -->
						<li
							id="line-{at}"
							aria-current={at === markedAt || undefined}
							onclick={() => (marked = bare(line.text))}
							onfocusin={() => (marked = bare(line.text))}
							class="flex gap-3 px-4 py-0.5 {at === markedAt ? 'bg-wash' : ''} {line.refusal
								? 'text-scald'
								: line.level === 'WARN'
									? 'text-saffron'
									: ''}"
						>
							{#if line.refusal}<SnagMark severity="blocks" />{/if}
							<span class="min-w-0 flex-1 break-words">{line.text}</span>
							{#if line.kind && line.record}<a
									class="follow shrink-0 font-sans"
									href={withTicket(page.url, line.kind, line.record)}>ticket of {line.record}</a
								>{:else if line.path && line.layer}<a
									class="follow shrink-0 font-sans text-steam"
									href={fileAddress(data.project.slug, line.layer, line.path, line.line)}>the file</a
								>{/if}
							{#if line.foretold !== null}<span class="shrink-0 font-sans text-steam"
									>{line.foretold ? 'foretold' : 'not foretold'}</span
								>{/if}
							{#if line.refusal}<a
									class="follow shrink-0 font-sans text-steam"
									href="/p/{data.project.slug}/narrow?line={encodeURIComponent(line.text)}">which change?</a
								>{/if}
						</li>
						{#each line.lessons as lesson (lesson.field)}
							<li class="px-4 pb-1 pl-11 font-sans text-[13px]">
								<LessonOffer slug={data.project.slug} {lesson} />
							</li>
						{/each}
					{/each}
				</ol>
				{#if data.shown.held && data.shown.held.unseen.length > 0}<details
						class="border-t border-line px-4 py-2"
					>
						<summary class="cursor-pointer text-steam"
							>Foretold, but not in this log: {data.shown.held.unseen.length}</summary
						>
						<ul class="mt-1">
							{#each data.shown.held.unseen as snag, at (at)}
								<li class="py-0.5">
									{snag.message}
									{#if snag.kind && snag.record}<a
											class="follow"
											href={withTicket(page.url, snag.kind, snag.record)}>ticket of {snag.record}</a
										>{/if}
									{#if snag.lesson}<LessonOffer slug={data.project.slug} lesson={snag.lesson} />{/if}
								</li>
							{/each}
						</ul>
						<p class="text-[13px] text-steam">
							Either the game takes these, or it never came that far. How serious a fault of a kind is, is set
							in the <a class="follow" href="/p/{data.project.slug}/guide">field guide</a>.
						</p>
					</details>{/if}
			</section>
			{#if data.trials.length > 1}
				<h2 class="mt-6">Earlier trials</h2>
				<ul class="mt-1">
					{#each data.trials as trial (trial.id)}<li class="py-0.5">
							<a class="follow" href="/p/{data.project.slug}/trial?trial={trial.id}">{when(trial.at)}</a>
							<span class="text-steam">{outcome(trial.status, trial.refused)}</span>
						</li>{/each}
				</ul>
			{/if}
		{:else}
			<p class="mt-6 text-steam">No trial yet. The first one shows the game’s log here.</p>
		{/if}
	{/if}
</div>
