// The process in which scripts are tried: it reads a program of Lua from standard input, runs it in a machine of its own
// (Lua compiled to WebAssembly), and writes what it gives back. Whoever started it ends it when it takes too long.
import { existsSync } from 'node:fs';
import { text } from 'node:stream/consumers';
import { fileURLToPath } from 'node:url';
import { LuaFactory } from 'wasmoon';

/** Bytes that the machine may take. */
const MEMORY = 64 * 2 ** 20;

const program = await text(process.stdin);
// In the package of the command the machine is a file beside this one.
const beside = fileURLToPath(new URL('glue.wasm', import.meta.url));
const lua = await new LuaFactory(existsSync(beside) ? beside : undefined).createEngine({
	traceAllocations: true,
	injectObjects: false
});
lua.global.setMemoryMax(MEMORY);
let answer: { said: string } | { fault: string };
try {
	answer = { said: String(await lua.doString(program)) };
} catch (fault) {
	answer = { fault: fault instanceof Error ? fault.message : String(fault) };
}
// A line of its own, so that it is known to be all of it.
process.stdout.write(`${JSON.stringify(answer)}\n`, () => process.exit(0));
