<script lang="ts">
	import { onMount } from 'svelte';
	import { history, historyKeymap, indentLess, standardKeymap } from '@codemirror/commands';
	import { EditorState, type Extension } from '@codemirror/state';
	import { drawSelection, EditorView, keymap, lineNumbers } from '@codemirror/view';
	import { margin, readEffect } from './margin';
	import type { TextReading } from './reading';

	/** A text as one sheet: the names of its records in the margin, its faults at their lines. */
	let {
		text,
		label,
		reading,
		line = null,
		changed,
		moved
	}: {
		/** The text to begin with; typing changes it only in here. */
		text: string;
		label: string;
		reading: TextReading | null;
		/** The line to begin at, from 1. */
		line?: number | null;
		/** Called after each change; the whole text is made only when it is asked for. */
		changed: (text: () => string) => void;
		/** Called when the cursor comes to another line, from 1. */
		moved: (line: number) => void;
	} = $props();

	/** What Tab puts in: as the text is indented. */
	const indentOf = (state: EditorState): string =>
		/^( +)\S/m.exec(state.sliceDoc(0, 4000))?.[1]?.slice(0, 4) ?? '\t';

	let place: HTMLElement;
	let view: EditorView | undefined;

	function extensions(): Extension[] {
		return [
			margin,
			lineNumbers(),
			history(),
			drawSelection(),
			EditorState.tabSize.of(4),
			EditorView.contentAttributes.of({ 'aria-label': label, spellcheck: 'false' }),
			keymap.of([
				{
					key: 'Tab',
					run: (sheet) => {
						sheet.dispatch(sheet.state.replaceSelection(indentOf(sheet.state)));
						return true;
					},
					shift: indentLess
				},
				...historyKeymap,
				...standardKeymap
			]),
			EditorView.updateListener.of((update) => {
				if (update.docChanged) changed(() => update.state.doc.toString());
				if (update.docChanged || update.selectionSet)
					moved(update.state.doc.lineAt(update.state.selection.main.head).number);
			})
		];
	}

	/** Puts the cursor at the start of a line, from 1, and shows it. */
	export function goTo(at: number): void {
		if (!view) return;
		const {
			from: start,
			to,
			text: words
		} = view.state.doc.line(Math.min(Math.max(1, at), view.state.doc.lines));
		// On a line of nothing but space, behind it: there one goes on typing.
		const from = words.trim() === '' ? to : start;
		view.dispatch({ selection: { anchor: from }, effects: EditorView.scrollIntoView(from, { y: 'center' }) });
		view.focus();
	}

	/** Puts another text in the place of the whole one, as one step that can be undone. */
	export function replace(next: string): void {
		view?.dispatch({ changes: { from: 0, to: view.state.doc.length, insert: next } });
	}

	onMount(() => {
		view = new EditorView({
			state: EditorState.create({ doc: text, extensions: extensions() }),
			parent: place
		});
		if (reading) view.dispatch({ effects: readEffect.of(reading) });
		if (line !== null) goTo(line);
		return () => view?.destroy();
	});
	$effect(() => {
		if (reading) view?.dispatch({ effects: readEffect.of(reading) });
	});
</script>

<div class="h-full min-h-0" bind:this={place}></div>
