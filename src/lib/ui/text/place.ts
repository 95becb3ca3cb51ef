/** A text that is being typed as an argument of a call, or (argument 0) in a comparison. */
export interface TypedText {
	call: string;
	/** From 1. */
	argument: number;
	/** What is between its opening quote and the cursor, and where that begins in the line. */
	typed: string;
	from: number;
}

/** Where the cursor is, by the line before it; null where that is in no text of a call. */
export function callAtCursor(before: string): TypedText | null {
	let open: { quote: string; at: number } | null = null;
	const calls: { call: string; argument: number }[] = [];
	for (let at = 0; at < before.length; at++) {
		const char = before[at]!;
		if (open) {
			if (char === '\\') at++;
			else if (char === open.quote) open = null;
		} else if (char === '"' || char === "'") open = { quote: char, at };
		else if (char === '-' && before[at + 1] === '-') return null;
		else if (char === '(')
			calls.push({
				call: /([\p{L}_][\p{L}\p{N}_.:]*)\s*$/u.exec(before.slice(0, at))?.[1] ?? '',
				argument: 1
			});
		else if (char === '{' || char === '[') calls.push({ call: '', argument: 1 });
		else if (char === ')' || char === '}' || char === ']') calls.pop();
		else if (char === ',' && calls.length > 0) calls.at(-1)!.argument++;
	}
	if (!open) return null;
	const place = { typed: before.slice(open.at + 1), from: open.at + 1 };
	const compared = /([\p{L}_][\p{L}\p{N}_.:]*)\s*(?:==|~=|!=)\s*$/u.exec(before.slice(0, open.at))?.[1];
	if (compared !== undefined) return { call: compared, argument: 0, ...place };
	const call = calls.at(-1);
	return call && call.call !== '' ? { ...call, ...place } : null;
}
