import { readFile } from 'node:fs/promises';

/** The field guide that lies beside a game's folder under its name (`game/` and `game.guide.yaml`), or null. */
export async function guideBeside(folder: string): Promise<string | null> {
	return readFile(`${folder.replace(/\/+$/, '')}.guide.yaml`, 'utf8').catch(() => null);
}
