<script lang="ts">
	import { counted } from '$core/wording';
	import type { Intention } from '$core/edits';
	import type { PatchedFile, PatchView } from '$core/views';
	import { post } from '$ui/frame/client.svelte';
	import { takesFile } from '$ui/pickers/dropped';
	import PlanDialog from '$ui/plan/PlanDialog.svelte';

	/** A patch of somebody: where its parts belong in this game, and what is not certain. */
	let { data } = $props();

	let text = $state('');
	let name = $state<string | null>(null);
	let at = $state<{ path: string; part: number; line: number }[]>([]);
	let view = $state.raw<PatchView | null>(null);
	let fault = $state<string | null>(null);
	let busy = $state(false);
	let over = $state(false);
	let plan = $state<Intention | null>(null);

	async function look(): Promise<void> {
		busy = true;
		fault = null;
		try {
			view = await post<PatchView>(`/p/${data.slug}/api/patch`, { patch: text, at });
		} catch (error) {
			view = null;
			fault = (error as Error).message;
		}
		busy = false;
	}

	async function open(file: File | undefined): Promise<void> {
		if (!file) return;
		name = file.name;
		text = await file.text();
		at = [];
		await look();
	}

	function choose(path: string, part: number, line: number): void {
		at = [...at.filter((one) => one.path !== path || one.part !== part), { path, part, line }];
		void look();
	}

	const unplaced = $derived(
		view?.files.reduce((sum, file) => sum + file.parts.filter((part) => !part.applied).length, 0) ?? 0
	);
	const all = $derived(view?.files.every((file) => file.already) ?? false);
	const stateOf = (file: PatchedFile): string =>
		file.reason !== ''
			? file.reason
			: file.applied
				? file.becomes === 'new'
					? 'New file.'
					: file.becomes === 'gone'
						? 'Removed.'
						: `${counted(file.parts.length, 'part')}, each in its place.`
				: `${file.parts.filter((part) => !part.applied).length} of ${counted(file.parts.length, 'part')} without a certain place.`;
</script>

{#snippet shown(line: string, look: string)}
	<div class="whitespace-pre">
		{line.match(/^\s*/)![0].replaceAll('\t', '  ')}<span class={look}>{line.trimStart() || ' '}</span>
	</div>
{/snippet}

<svelte:head><title>Apply a patch · Kettle Dial</title></svelte:head>
<div class="mx-auto max-w-5xl px-6 py-5">
	<h1>Apply a patch</h1>
	<p class="mt-1 text-steam">
		A patch changes parts of files, not whole files. Each part goes where the lines around it say it belongs,
		even in another version of the file. If that is not certain, nothing is written until you choose.
	</p>
	<form
		class="plate mt-4 p-4 {over ? 'border-copper' : ''}"
		aria-label="The patch"
		{@attach takesFile(
			(file) => void open(file),
			(held) => (over = held)
		)}
		onsubmit={(event) => {
			event.preventDefault();
			at = [];
			void look();
		}}
	>
		<div class="flex flex-wrap items-center gap-3">
			<label class="press">
				Choose a file…<input
					class="sr-only"
					type="file"
					accept=".patch,.diff,.txt,text/*"
					onchange={({ currentTarget }) => void open(currentTarget.files?.[0])}
				/>
			</label>
			<span class="text-steam">{name ?? 'or drop it here, or paste its text'}</span>
		</div>
		<textarea
			class="box mt-3 block h-36 w-full font-mono text-[12px]"
			aria-label="Text of the patch"
			spellcheck="false"
			bind:value={text}
			oninput={() => {
				view = null;
				name = null;
			}}></textarea>
		<button class="press main mt-3" disabled={busy || text.trim() === ''}
			>{busy ? 'Looking…' : 'See what it does'}</button
		>
	</form>
	{#if fault}<p class="mt-4 text-scald" role="alert">{fault}</p>{/if}
	{#if view}
		<p class="mt-4 flex items-center gap-3" role="status">
			{#if view.applied}
				<button class="press main" onclick={() => (plan = { do: 'patch', patch: text, at })}>Preview</button>
				<span>Every part has its place. You see each change before anything is written.</span>
			{:else if all}
				<span>All of this patch is already there.</span>
			{:else}
				<span class="text-saffron"
					>{unplaced > 0
						? `${unplaced === 1 ? '1 part has' : `${unplaced} parts have`} no certain place yet. Nothing is written until each has one.`
						: 'The patch cannot be applied to these files.'}</span
				>
			{/if}
		</p>
		{#each view.files as file (file.path)}
			<section class="plate mt-3 p-4" aria-label={file.path}>
				<h2 class="font-mono text-[14px]">{file.path}</h2>
				<p class={file.applied || file.already ? 'text-steam' : 'text-saffron'}>{stateOf(file)}</p>
				{#each file.parts as part (part.nth)}
					<div class="mt-3 border-t border-line pt-2" role="group" aria-label="Part {part.nth}">
						<p>
							<span class="font-semibold">Part {part.nth}</span>
							{#if part.applied && part.at !== null && file.becomes === 'changed'}
								<span class="text-steam"
									>{file.of === 'bytes' ? 'at byte' : 'at line'}
									{part.at}{part.likeness < 1
										? `, ${Math.round(part.likeness * 100)} % of what was around it is there`
										: ''}</span
								>
							{:else if part.reason !== ''}<span class="text-saffron">{part.reason}</span>{/if}
						</p>
						<div class="mt-1 overflow-x-auto font-mono text-[12px] leading-[18px]">
							{#each part.removed as line, nth (nth)}{@render shown(line, 'text-steam line-through')}{/each}
							{#each part.added as line, nth (nth)}{@render shown(line, 'text-copper')}{/each}
						</div>
						{#if !part.applied && part.candidates.length > 0}
							<fieldset class="mt-2">
								<legend class="text-[12px] text-steam">Where does it belong?</legend>
								<div class="mt-1 flex flex-wrap gap-3">
									{#each part.candidates as one (one.line)}
										<label
											class="block max-w-full cursor-pointer rounded-lg border border-line px-3 py-2 hover:border-copper"
										>
											<span class="flex items-center gap-2">
												<input
													type="radio"
													class="accent-(--copper)"
													name="{file.path}-{part.nth}"
													onchange={() => choose(file.path, part.nth, one.line)}
												/>
												<span class="font-semibold">{file.of === 'bytes' ? 'Byte' : 'Line'} {one.at}</span>
												<span class="text-steam">{Math.round(one.likeness * 100)} % alike</span>
											</span>
											{#if one.lines.length > 0}<span
													class="mt-1 block overflow-x-auto font-mono text-[12px] leading-[18px]"
												>
													{#each one.lines as line (line.number)}<span
															class="block whitespace-pre {line.number === one.line ? 'bg-wash' : ''}"
															><span class="mr-3 inline-block w-8 text-right text-steam">{line.number}</span
															>{line.text.replaceAll('\t', '  ')}</span
														>{/each}
												</span>{/if}
										</label>
									{/each}
								</div>
							</fieldset>
						{/if}
					</div>
				{/each}
			</section>
		{/each}
	{/if}
</div>
<PlanDialog slug={data.slug} bind:intention={plan} leadsTo={`/p/${data.slug}/ledger`} />
