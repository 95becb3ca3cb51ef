<script lang="ts">
	import type { LogRead } from '$core/views';
	import { counted } from '$core/wording';
	import { post } from '$ui/frame/client.svelte';

	/** The log with what is read of each line: a line is picked, its parts are named, and the reader is made from that. */
	let {
		address,
		folder,
		log,
		pattern = $bindable(),
		refusals = $bindable(),
		reading = $bindable()
	}: {
		address: string;
		folder: string;
		log: string;
		pattern: string | null;
		refusals: string[];
		/** Settles when the pattern is that of what was typed last. */
		reading: Promise<unknown>;
	} = $props();

	type Part = keyof LogRead['guess'];
	const PARTS: readonly (readonly [Part, string])[] = [
		['level', 'Severity'],
		['file', 'File'],
		['line', 'Line of the file'],
		['record', 'Record']
	];
	let pasted = $state<string | null>(null);
	let read = $state.raw<LogRead | null>(null);
	let fault = $state<string | null>(null);
	let line = $state<string | null>(null);
	let parts = $state<Record<Part, string>>({ level: '', file: '', line: '', record: '' });

	/** Of several that are asked for, the last one counts, whichever comes first. */
	let asked = 0;
	async function ask(picked: string | null, own: LogRead['guess'] | null): Promise<LogRead | null> {
		const nth = ++asked;
		try {
			const found = await post<LogRead>(address, {
				do: 'read',
				folder,
				log: log || null,
				pasted,
				line: picked,
				parts: own,
				pattern
			});
			if (nth !== asked) return null;
			fault = null;
			return found;
		} catch (reason) {
			if (nth === asked) fault = (reason as Error).message;
			return null;
		}
	}
	const show = async () => (read = (await ask(null, null)) ?? read);

	/** Takes a line as the model: its parts are guessed, and can be said otherwise. */
	async function pick(text: string): Promise<void> {
		line = text;
		const found = await ask(text, null);
		if (!found) return;
		parts = { level: '', file: '', line: '', record: '', ...found.guess };
		read = found;
		pattern = found.pattern;
	}
	async function name(): Promise<void> {
		if (line === null) return;
		const said = Object.fromEntries(Object.entries(parts).filter(([, text]) => text !== ''));
		const found = await ask(line, said);
		if (!found) return;
		read = found;
		pattern = found.pattern;
	}
</script>

<div class="mt-2 flex flex-wrap items-center gap-3">
	<button type="button" class="press" disabled={log === '' && !pasted} onclick={() => void show()}
		>Read the log</button
	>
	<details>
		<summary class="cursor-pointer text-[13px] text-steam">or paste one</summary>
		<textarea
			class="box mt-1 block h-24 w-96 font-mono text-[12px]"
			aria-label="A log, pasted"
			spellcheck="false"
			oninput={(event) => (pasted = event.currentTarget.value || null)}></textarea>
	</details>
</div>
{#if fault}<p class="mt-1 text-[13px] text-scald" role="alert">{fault}</p>{/if}
{#if read}
	{#if line !== null}
		<fieldset class="mt-3 border-t border-line pt-2">
			<legend class="sr-only">Parts of the line</legend>
			<p class="font-mono text-[12px] break-words" data-testid="picked">{line}</p>
			<div class="mt-2 flex flex-wrap gap-3">
				{#each PARTS as [part, title] (part)}
					<label class="text-[13px]"
						>{title}<input
							class="box mt-0.5 block {part === 'file' ? 'w-72' : 'w-36'} font-mono text-[12px]"
							bind:value={parts[part]}
							placeholder="not in it"
							oninput={() => (reading = name())}
						/></label
					>
				{/each}
			</div>
			{#if pattern === null}<p class="mt-1 text-[13px] text-scald" role="alert">
					The log cannot be read by these parts. Write each exactly as it is in the line; parts must not
					overlap.
				</p>{/if}
		</fieldset>
	{/if}
	<p class="mt-3 text-[13px]" role="status">
		{#if pattern === null}Choose a line that reports a fault. The same parts are then read in all other lines.{:else}{read.read.toLocaleString(
				'en'
			)} of {counted(read.all, 'line')} are read like this.{/if}
	</p>
	{#if read.levels.length > 0}
		<fieldset class="mt-1 flex flex-wrap items-center gap-x-4 gap-y-1 text-[13px]">
			<legend class="sr-only">Which of them mean that something was not loaded</legend>
			<span class="text-steam">Means that something was not loaded:</span>
			{#each read.levels as { level, count } (level)}
				<label class="flex items-center gap-1.5"
					><input
						type="checkbox"
						class="accent-(--rim)"
						checked={refusals.includes(level)}
						onchange={({ currentTarget }) =>
							(refusals = currentTarget.checked
								? [...refusals, level]
								: refusals.filter((one) => one !== level))}
					/><span class="font-mono">{level}</span>
					<span class="text-steam">{count.toLocaleString('en')}</span></label
				>
			{/each}
		</fieldset>
	{/if}
	<div class="mt-2 max-h-72 overflow-auto rounded border border-line">
		<table class="w-full text-left font-mono text-[12px]">
			<thead class="sticky top-0 bg-wash font-sans text-steam">
				<tr
					>{#each PARTS as [part, title] (part)}<th class="px-2 font-normal whitespace-nowrap">{title}</th
						>{/each}<th class="px-2 font-normal">The line</th></tr
				>
			</thead>
			<tbody>
				{#each read.lines as one, nth (nth)}
					<tr class="border-t border-line align-top {one.text === line ? 'bg-wash' : ''}">
						{#each PARTS as [part] (part)}<td
								class="px-2 whitespace-nowrap {one.level !== null && refusals.includes(one.level)
									? 'text-scald'
									: ''}">{one[part] ?? ''}</td
							>{/each}
						<td class="px-2"
							><button
								type="button"
								class="text-left break-words hover:underline"
								onclick={() => (reading = pick(one.text))}>{one.text}</button
							></td
						>
					</tr>
				{/each}
			</tbody>
		</table>
	</div>
{/if}
