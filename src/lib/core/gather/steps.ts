/** What long work in steps comes to when it is done in one go, with nobody else going first. */
export function inOneGo<T>(steps: Generator<unknown, T>): T {
	for (;;) {
		const step = steps.next();
		if (step.done) return step.value;
	}
}
