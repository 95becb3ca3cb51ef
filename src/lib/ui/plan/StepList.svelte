<script lang="ts">
	import type { BlankGuide } from '$core/guide';

	/** The steps of a recipe in words; blanks stand out, filled ones with what fills them. */
	let {
		said,
		fill,
		blanks
	}: { said: readonly string[]; fill: Readonly<Record<string, string>>; blanks: Record<string, BlankGuide> } =
		$props();

	const parts = (text: string) =>
		text.split(/(\{[^{}]+\})/).map((part) => {
			const name = /^\{(.*)\}$/.exec(part)?.[1];
			return name !== undefined && Object.hasOwn(blanks, name)
				? { blank: blanks[name]!.title, text: fill[name] ?? '' }
				: { blank: null, text: part };
		});
</script>

<ol class="mt-1 space-y-0.5">
	{#each said as step, at (at)}
		<li class="flex gap-3">
			<span class="w-5 shrink-0 text-right font-mono text-[12px] leading-6 text-steam">{at + 1}</span>
			<span class="min-w-0 leading-6 break-words"
				>{#each parts(step) as part, nth (nth)}{#if part.blank === null}{part.text}{:else if part.text}<b
							class="font-mono text-[13px] font-normal text-copper">{part.text}</b
						>{:else}<i class="border-b border-dashed border-brass text-steam not-italic">{part.blank}</i
						>{/if}{/each}</span
			>
		</li>
	{/each}
</ol>
