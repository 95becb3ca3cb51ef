// The document type of an XML file: its declarations are checked for their form and kept; nothing in it is fetched,
// and no entity is ever expanded. Productions are numbered as in XML 1.0 (fifth edition).

const START =
	':A-Z_a-z\\u00c0-\\u00d6\\u00d8-\\u00f6\\u00f8-\\u02ff\\u0370-\\u037d\\u037f-\\u1fff\\u200c-\\u200d\\u2070-\\u218f\\u2c00-\\u2fef\\u3001-\\ud7ff\\uf900-\\ufdcf\\ufdf0-\\ufffd\\u{10000}-\\u{effff}';
const CHARS = `\\u0300-\\u036f${START}\\-.0-9\\u00b7-\\u00b7\\u203f\\u2040`;
/** A name, [5]. */
export const NAME_PATTERN = `[${START}][${CHARS}]*`;
const N = NAME_PATTERN;
const S = '[ \\t\\r\\n]+';
const S0 = '[ \\t\\r\\n]*';
const REFERENCE = `&(?:${N}|#\\d+|#x[0-9a-fA-F]+);`;
const SYSTEM = `(?:"[^"]*"|'[^']*')`;
const PUBID_CHARS = '-a-zA-Z0-9 \\r\\n()+,./:=?;!*#@$_%';
const PUBLIC = `(?:"[${PUBID_CHARS}']*"|'[${PUBID_CHARS}]*')`;
/** [75] */
const EXTERNAL = `(?:SYSTEM${S}${SYSTEM}|PUBLIC${S}${PUBLIC}${S}${SYSTEM})`;
/** [9]; a parameter entity may not are in one here. */
const ENTITY_VALUE = `(?:"(?:[^%&"]|${REFERENCE})*"|'(?:[^%&']|${REFERENCE})*')`;
/** [10] */
const ATTRIBUTE_VALUE = `(?:"(?:[^<&"]|${REFERENCE})*"|'(?:[^<&']|${REFERENCE})*')`;
const LIST = (item: string) => `\\(${S0}${item}(?:${S0}\\|${S0}${item})*${S0}\\)`;
/** [54] */
const TYPE = `(?:CDATA|IDREFS?|ID|ENTITY|ENTITIES|NMTOKENS?|NOTATION${S}${LIST(N)}|${LIST(`[${CHARS}]+`)})`;
/** [60] */
const DEFAULT = `(?:#REQUIRED|#IMPLIED|(?:#FIXED${S})?${ATTRIBUTE_VALUE})`;

const whole = (pattern: string) => new RegExp(`^${pattern}$`, 'u');
const ENTITY = whole(
	`<!ENTITY${S}(?:(${N})${S}(?:${ENTITY_VALUE}|${EXTERNAL}(?:${S}NDATA${S}${N})?)|%${S}${N}${S}(?:${ENTITY_VALUE}|${EXTERNAL}))${S0}>`
);
const NOTATION = whole(`<!NOTATION${S}${N}${S}(?:${EXTERNAL}|PUBLIC${S}${PUBLIC})${S0}>`);
const ATTLIST = whole(`<!ATTLIST${S}${N}(?:${S}${N}${S}${TYPE}${S}${DEFAULT})*${S0}>`);
const ELEMENT = new RegExp(`^<!ELEMENT${S}${N}${S}`, 'u');
const MIXED = whole(`\\(${S0}#PCDATA(?:(?:${S0}\\|${S0}${N})*${S0}\\)\\*|${S0}\\))`);
const DOCTYPE = new RegExp(`^<!DOCTYPE${S}${N}(?:${S}${EXTERNAL})?${S0}[\\[>]`, 'u');

/** Longest declaration whose form is checked, in characters. */
const LONGEST = 20_000;

/** Whether a content model is well formed, [47] to [50]: checked by its brackets, one at a time. */
function isContent(model: string): boolean {
	if (/^(?:EMPTY|ANY)$/.test(model) || MIXED.test(model)) return true;
	const token = new RegExp(`${S0}(?:(\\()|(\\)[?*+]?)|([|,])|(${N}[?*+]?))`, 'uy');
	const separators: string[] = [];
	let wantsItem = true;
	let ended = false;
	while (token.lastIndex < model.length) {
		const match = token.exec(model);
		if (!match || ended) return false;
		const [, open, close, separator, name] = match;
		if (open) {
			if (!wantsItem) return false;
			separators.push('');
		} else if (separators.length === 0) return false;
		else if (separator) {
			if (wantsItem || (separators.at(-1) !== '' && separators.at(-1) !== separator)) return false;
			separators[separators.length - 1] = separator;
			wantsItem = true;
		} else if (close) {
			if (wantsItem) return false;
			separators.pop();
			ended = separators.length === 0;
		} else if (name) {
			if (!wantsItem) return false;
			wantsItem = false;
		}
	}
	return ended;
}

/** Whether one declaration, from `<!` to `>`, has the form that XML wants. */
export function isDeclaration(text: string): boolean {
	if (text.length > LONGEST) return true;
	if (text.startsWith('<!ENTITY')) return ENTITY.test(text);
	if (text.startsWith('<!NOTATION')) return NOTATION.test(text);
	if (text.startsWith('<!ATTLIST')) return ATTLIST.test(text);
	const element = ELEMENT.exec(text);
	return element !== null && isContent(text.slice(element[0].length, -1).trimEnd());
}

/** The name of the general entity that a declaration declares; null for any other. */
export function declaredEntity(text: string): string | null {
	return text.length > LONGEST ? null : (ENTITY.exec(text)?.[1] ?? null);
}

/** Whether a document type begins as it must, up to its `[` or `>`. */
export const isDoctype = (text: string): boolean => DOCTYPE.test(text);
