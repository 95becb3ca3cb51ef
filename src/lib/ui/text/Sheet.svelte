<script lang="ts">
	import { onMount } from 'svelte';
	import { history, historyKeymap, indentLess, standardKeymap } from '@codemirror/commands';
	import { Compartment, EditorState, type Extension } from '@codemirror/state';
	import { drawSelection, EditorView, keymap, lineNumbers } from '@codemirror/view';
	import { coloursFor } from './colours';
	import { margin, readEffect } from './margin';
	import { offersFor, type IdPlace } from './offers';
	import type { TextReading } from './reading';

	/** A text as one sheet: the names of its records in the margin, its faults at their lines. */
	let {
		slug,
		path,
		text,
		label,
		reading,
		places = [],
		line = null,
		changed,
		moved
	}: {
		slug: string;
		path: string;
		/** Where ids of records are offered. */
		places?: readonly IdPlace[];
		/** The text to begin with; typing changes it only in here. */
		text: string;
		label: string;
		reading: TextReading | null;
		/** The line to begin at, from 1. */
		line?: number | null;
		/** Called after each change; the whole text is made only when it is asked for. */
		changed: (text: () => string) => void;
		/** Called when the cursor moves: its line and column, from 1, and the name that it is at. */
		moved: (line: number, column: number, word: string | null) => void;
	} = $props();

	/** What Tab puts in: as the text is indented. */
	const indentOf = (state: EditorState): string =>
		/^( +)\S/m.exec(state.sliceDoc(0, 4000))?.[1]?.slice(0, 4) ?? '\t';

	const colours = new Compartment();

	/** Says where the cursor is. */
	function told(state: EditorState): void {
		const { head } = state.selection.main;
		const at = state.doc.lineAt(head);
		const word = state.wordAt(head);
		const name = word ? state.sliceDoc(word.from, word.to) : '';
		moved(at.number, (word?.from ?? head) - at.from + 1, /^[A-Za-z_]\w*$/.test(name) ? name : null);
	}

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
				if (update.docChanged || update.selectionSet) told(update.state);
			}),
			offersFor(slug, places),
			colours.of([])
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
		void coloursFor(path).then((found) => {
			if (found) view?.dispatch({ effects: colours.reconfigure(found) });
		});
		return () => view?.destroy();
	});
	$effect(() => {
		if (reading) view?.dispatch({ effects: readEffect.of(reading) });
	});
</script>

<div class="h-full min-h-0" bind:this={place}></div>
