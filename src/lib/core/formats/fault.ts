/** Something that keeps the rest of what is being read from being read; caught where reading can go on. */
export class Fault extends Error {
	constructor(
		readonly at: number,
		message: string
	) {
		super(message);
	}
}
