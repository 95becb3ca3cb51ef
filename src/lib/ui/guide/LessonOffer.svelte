<script lang="ts">
	import { untrack } from 'svelte';
	import type { Lesson } from '$core/checks';
	import { listed } from '$core/wording';
	import { changeGuide } from './change';

	/** A rule that a refusal of the game suggests, to be put into the field guide. */
	let {
		slug,
		lesson
	}: {
		slug: string;
		lesson: Lesson & {
			title: string;
			kinds: string[];
			/** Of a rule about two fields, how the other is called. */
			other: string | null;
			/** In how many trials the game refused the same. */
			seen: number;
		};
	} = $props();

	let bound = $state(untrack(() => ('value' in lesson.rule ? String(lesson.rule.value) : '')));
	let busy = $state(false);

	async function teach(event: SubmitEvent): Promise<void> {
		event.preventDefault();
		busy = true;
		const { kind, field, rule } = lesson;
		await changeGuide(slug, {
			do: 'say',
			kind,
			field,
			statements: {
				...('bound' in rule ? { [rule.bound]: Number(bound) } : lesson.statements),
				...(lesson.seen > 0 ? { seen: lesson.seen } : {})
			}
		});
		busy = false;
	}
</script>

<form class="flex flex-wrap items-center gap-x-2" onsubmit={(event) => void teach(event)}>
	{#if 'bound' in lesson.rule}
		<label class="flex items-center gap-2"
			>{lesson.title}
			{lesson.rule.bound === 'max' ? 'at most' : 'at least'}<input
				class="box w-24 text-right font-mono"
				type="number"
				step="any"
				required
				bind:value={bound}
			/></label
		>
		<span class="text-steam"
			>{#if lesson.widens}The game took {lesson.taken}, beyond {lesson.refused} in the field guide.{:else}The
				game took
				{lesson.rule.bound === 'max' ? 'up to' : 'down to'}
				{lesson.taken} and refused {lesson.refused}.{/if}</span
		>
	{:else if 'required' in lesson.rule}
		<span
			>{lesson.title} must be filled in.
			<span class="text-steam">All records that the game took have it.</span></span
		>
	{:else if 'notBefore' in lesson.rule}
		<span
			>{lesson.title} must not lie before {lesson.other}.
			<span class="text-steam">In all records that the game took, it does not.</span></span
		>
	{:else}
		<span
			>{lesson.title} must be one of the {listed(lesson.kinds, 'or')}.
			<span class="text-steam">This was only detected; the game refused {lesson.refused}.</span></span
		>
	{/if}
	{#if lesson.seen > 1}<span class="text-steam">Seen in {lesson.seen} trials.</span>{/if}
	<button class="press" disabled={busy}>Put it in the field guide</button>
</form>
