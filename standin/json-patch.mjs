// Lists of changes beside a mod's files: `data/crew.json.patch` changes data/crew.json of whatever lies below the mod.
import { Fault } from './readers.mjs';

/** JSON with remarks behind `//`. @param {string} text @returns {any} */
function parse(text) {
	const bare = text
		.replace(/^\ufeff/, '')
		.replace(/("(?:[^"\\\n]|\\.)*")|\/\/[^\n]*/g, (_, said) => said ?? '');
	try {
		return JSON.parse(bare);
	} catch {
		throw new Fault(1, 'it is not JSON');
	}
}

/** @param {any} value @returns {any} */
const copy = (value) => JSON.parse(JSON.stringify(value));

/**
 * The holder of what a pointer names, and its name there.
 * @param {any} all @param {string} pointer @returns {[any, string]}
 */
function at(all, pointer) {
	const steps = pointer.split('/').map((step) => step.replaceAll('~1', '/').replaceAll('~0', '~'));
	const last = /** @type {string} */ (steps.pop());
	let here = { '': all };
	for (const step of steps) {
		here = here?.[/** @type {''} */ (step)];
		if (typeof here !== 'object' || here === null) throw new Fault(1, `${pointer} leads nowhere`);
	}
	return [here, last];
}

/** @param {any} all @param {string} pointer */
function get(all, pointer) {
	const [holder, name] = at(all, pointer);
	if (!Object.hasOwn(holder, name)) throw new Fault(1, `there is nothing at ${pointer}`);
	return holder[name];
}

/** @param {any} all @param {string} pointer @param {any} value */
function add(all, pointer, value) {
	const [holder, name] = at(all, pointer);
	if (!Array.isArray(holder)) holder[name] = value;
	else {
		const nth = name === '-' ? holder.length : Number(name);
		if (!(nth >= 0 && nth <= holder.length)) throw new Fault(1, `there is no room at ${pointer}`);
		holder.splice(nth, 0, value);
	}
}

/** @param {any} all @param {string} pointer */
function remove(all, pointer) {
	get(all, pointer);
	const [holder, name] = at(all, pointer);
	if (Array.isArray(holder)) holder.splice(Number(name), 1);
	else delete holder[name];
}

/** A file after the changes of one mod; a fault takes back all of them. @param {string} text @param {string} patch */
export function patched(text, patch) {
	const all = parse(text);
	for (const { op, path, from, value } of parse(patch)) {
		if (op === 'test') {
			if (JSON.stringify(get(all, path)) !== JSON.stringify(value))
				throw new Fault(1, `${path} is not what is tested for`);
		} else if (op === 'add') add(all, path, value);
		else if (op === 'remove') remove(all, path);
		else if (op === 'replace') {
			get(all, path);
			const [holder, name] = at(all, path);
			holder[name] = value;
		} else if (op === 'copy') add(all, path, copy(get(all, from)));
		else if (op === 'move') {
			const moved = get(all, from);
			remove(all, from);
			add(all, path, moved);
		} else throw new Fault(1, `there is no change "${op}"`);
	}
	return JSON.stringify(all, null, '\t');
}
