import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex } from '@noble/hashes/utils.js';

/** SHA-256 of the bytes, as 64 lower-case hex digits: the name under which a blob is kept. */
export function digestOf(bytes: Uint8Array): string {
	return bytesToHex(sha256(bytes));
}
