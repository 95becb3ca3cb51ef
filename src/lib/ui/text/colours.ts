// What a script looks like on its sheet: texts and numbers stand out, commentary steps back; nothing more.
import { HighlightStyle, StreamLanguage, syntaxHighlighting, type StreamParser } from '@codemirror/language';
import type { Extension } from '@codemirror/state';
import { tags } from '@lezer/highlight';

const look = HighlightStyle.define([
	{ tag: tags.comment, color: 'var(--steam)', fontStyle: 'italic' },
	{ tag: [tags.string, tags.number], color: 'var(--verdigris)' },
	{ tag: tags.keyword, fontWeight: '600' }
]);

/** The reader of a language by the ending of its files; each comes only where it is needed. */
const READERS: Record<string, () => Promise<StreamParser<unknown>>> = {
	lua: async () => (await import('@codemirror/legacy-modes/mode/lua')).lua as StreamParser<unknown>,
	js: async () =>
		(await import('@codemirror/legacy-modes/mode/javascript')).javascript as StreamParser<unknown>,
	py: async () => (await import('@codemirror/legacy-modes/mode/python')).python as StreamParser<unknown>,
	rb: async () => (await import('@codemirror/legacy-modes/mode/ruby')).ruby as StreamParser<unknown>,
	as: async () => (await import('@codemirror/legacy-modes/mode/clike')).csharp as StreamParser<unknown>,
	nut: async () => (await import('@codemirror/legacy-modes/mode/clike')).c as StreamParser<unknown>
};
const SAME: Record<string, string> = { mjs: 'js', ts: 'js', gd: 'py', cs: 'as', c: 'nut', h: 'nut' };

/** How a script is shown; null for a file of a language that is not known, and for data. */
export async function coloursFor(path: string): Promise<Extension | null> {
	const ending = /\.([^./]+)$/.exec(path)?.[1]?.toLowerCase() ?? '';
	const reader = READERS[SAME[ending] ?? ending];
	return reader ? [StreamLanguage.define(await reader()), syntaxHighlighting(look)] : null;
}
