import { pack } from 'tar-stream';

/** An archive of the tape kind with files in it. */
export async function tape(files: Record<string, string>): Promise<Buffer> {
	const made = pack();
	for (const [name, text] of Object.entries(files)) made.entry({ name }, text);
	made.finalize();
	const chunks: Buffer[] = [];
	for await (const chunk of made) chunks.push(chunk as Buffer);
	return Buffer.concat(chunks);
}
