import { stat, readFile } from 'node:fs/promises';
import { SourceFault } from './fault';

/** Bytes that a field guide may have. */
const LARGEST = 32 * 2 ** 20;

/** The text of a field guide; null where there is none. @throws SourceFault where it is not a plain file, or too large */
export async function readGuide(path: string): Promise<string | null> {
	const info = await stat(path).catch(() => null);
	if (!info) return null;
	if (!info.isFile())
		throw new SourceFault(`The field guide ${path} is not a plain file. It was not opened.`);
	if (info.size > LARGEST)
		throw new SourceFault(
			`The field guide ${path} is ${Math.round(info.size / 2 ** 20)} MB; the limit is ${LARGEST / 2 ** 20} MB.`
		);
	return readFile(path, 'utf8');
}

/** The field guide that is beside a game's folder under its name (`game/` and `game.guide.yaml`), or null. */
export const guideBeside = (folder: string): Promise<string | null> =>
	readGuide(`${folder.replace(/\/+$/, '')}.guide.yaml`);
