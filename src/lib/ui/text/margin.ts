// What is beside and behind the lines of a sheet: names of records in the margin, marks of faults, and its look.
import { RangeSet, StateEffect, StateField, type Extension } from '@codemirror/state';
import { Decoration, EditorView, gutter, GutterMarker, type DecorationSet } from '@codemirror/view';
import type { TextReading } from './reading';

class Name extends GutterMarker {
	readonly id: string;
	constructor(id: string) {
		super();
		this.id = id;
	}
	override eq(other: Name) {
		return other.id === this.id;
	}
	override toDOM() {
		const name = document.createElement('span');
		name.textContent = this.id;
		name.title = this.id;
		return name;
	}
}

/** Says what the text was read as. */
export const readEffect = StateEffect.define<TextReading>();

/** Names of records and marks of faulty lines; they move with the text until it is read again. */
const names = StateField.define<RangeSet<Name>>({
	create: () => RangeSet.empty,
	update(value, change) {
		for (const effect of change.effects)
			if (effect.is(readEffect)) {
				const { doc } = change.state;
				const found = effect.value.records
					.filter((record) => record.line <= doc.lines)
					.map((record) => new Name(record.id).range(doc.line(record.line).from));
				return RangeSet.of(found, true);
			}
		return change.docChanged ? value.map(change.changes) : value;
	}
});

const fault = (message: string) => Decoration.line({ class: 'sheet-fault', attributes: { title: message } });
const faults = StateField.define<DecorationSet>({
	create: () => Decoration.none,
	update(value, change) {
		for (const effect of change.effects)
			if (effect.is(readEffect)) {
				const { doc } = change.state;
				const lines = new Map<number, string>();
				for (const { line: at, message } of effect.value.problems)
					if (at >= 1 && at <= doc.lines && !lines.has(at)) lines.set(at, message);
				return Decoration.set(
					[...lines].map(([at, message]) => fault(message).range(doc.line(at).from)),
					true
				);
			}
		return change.docChanged ? value.map(change.changes) : value;
	},
	provide: (field) => EditorView.decorations.from(field)
});

const look = EditorView.theme({
	'&': { height: '100%', fontSize: '13px', backgroundColor: 'transparent', color: 'var(--rim)' },
	'&.cm-focused': { outline: 'none' },
	'.cm-scroller': { fontFamily: 'var(--font-mono)', lineHeight: '20px', overflow: 'auto' },
	'.cm-content': { padding: '8px 0', caretColor: 'var(--rim)' },
	'.cm-line': { padding: '0 12px' },
	'.cm-cursor': { borderLeftColor: 'var(--rim)', borderLeftWidth: '2px' },
	'.cm-gutters': { backgroundColor: 'transparent', color: 'var(--steam)', border: 'none' },
	'.cm-lineNumbers .cm-gutterElement': { minWidth: '3.2em', padding: '0 4px', fontSize: '12px' },
	'.sheet-names': { width: '110px', borderRight: '1px solid var(--line)' },
	// The editor's own rule is important as well.
	'&.sheet-plain .sheet-names': { display: 'none !important' },
	'.sheet-names .cm-gutterElement': {
		padding: '0 8px 0 12px',
		fontFamily: 'var(--font-sans)',
		fontSize: '12px',
		overflow: 'hidden',
		whiteSpace: 'nowrap',
		textOverflow: 'ellipsis'
	},
	'.cm-selectionBackground, &.cm-focused .cm-selectionBackground': {
		backgroundColor: 'color-mix(in srgb, var(--brass) 30%, transparent) !important'
	},
	'.sheet-fault': {
		borderLeft: '3px solid var(--scald)',
		paddingLeft: '9px',
		backgroundColor: 'var(--wash)'
	},
	'.cm-tooltip.cm-tooltip-autocomplete': {
		backgroundColor: 'var(--porcelain)',
		border: '1px solid var(--rim)',
		borderRadius: '10px',
		overflow: 'hidden'
	},
	'.cm-tooltip.cm-tooltip-autocomplete > ul': { fontFamily: 'var(--font-sans)', fontSize: '13px' },
	'.cm-tooltip.cm-tooltip-autocomplete > ul > li': { padding: '3px 12px', color: 'var(--rim)' },
	'.cm-tooltip-autocomplete ul li[aria-selected]': {
		backgroundColor: 'color-mix(in srgb, var(--brass) 30%, transparent)',
		color: 'var(--rim)'
	},
	'.cm-completionDetail': {
		marginLeft: '10px',
		fontStyle: 'normal',
		fontFamily: 'var(--font-mono)',
		fontSize: '12px',
		color: 'var(--steam)'
	}
});

/** Without any record, the margin for their names is not there. */
const plain = EditorView.editorAttributes.compute([names], (state) => ({
	class: state.field(names).size === 0 ? 'sheet-plain' : ''
}));

/** All of it, for an editor. */
export const margin: Extension = [
	gutter({ class: 'sheet-names', markers: (sheet) => sheet.state.field(names) }),
	names,
	faults,
	plain,
	look
];
