<script lang="ts">
	import { recordAddress } from '../frame/address';
	import type { CodeLine, LiteralView } from '$core/views';

	/** A line of code in which each number and text is a field. */
	let {
		slug,
		line,
		change
	}: { slug: string; line: CodeLine; change: (literal: LiteralView, value: string) => Promise<boolean> } =
		$props();

	/** The line in pieces: code, and the literals in it. */
	const pieces = $derived.by(() => {
		const found: (string | LiteralView)[] = [];
		let at = 0;
		for (const literal of line.literals) {
			found.push(line.code.slice(at, literal.at), literal);
			at = literal.at + literal.raw.length;
		}
		found.push(line.code.slice(at));
		return found;
	});
	const records = $derived(line.literals.flatMap(({ record }) => record ?? []));

	async function save(box: HTMLInputElement, literal: LiteralView): Promise<void> {
		if (box.value === literal.value) return;
		if (!(await change(literal, box.value))) box.value = literal.value;
	}
</script>

<p class="flex flex-wrap items-center gap-y-1 font-mono text-[13px] whitespace-pre">
	{#each pieces as piece, nth (nth)}{#if typeof piece === 'string'}<span class="text-steam">{piece}</span
			>{:else}<input
				class="box h-7 px-2 {piece.of === 'number' ? 'text-right' : ''}"
				style="width: {Math.min(44, Math.max(4, piece.value.length + 3))}ch"
				aria-label="Line {line.line}, {piece.raw}"
				spellcheck="false"
				value={piece.value}
				onchange={({ currentTarget }) => void save(currentTarget, piece)}
			/>{/if}{/each}
	{#each records as record (record.id)}<a
			class="follow ml-3 font-sans"
			href={recordAddress(slug, record.kind, record.id)}>{record.name}</a
		>{/each}
</p>
