/**
 * What the server sent is painted before the page's scripts take the main thread: rows are seen while the rest wakes up.
 * A page that is not in view gets no frames and does not wait for one.
 */
export const init = (): Promise<void> =>
	new Promise((done) => {
		const wait = setTimeout(done, document.hidden ? 0 : 60);
		requestAnimationFrame(() =>
			setTimeout(() => {
				clearTimeout(wait);
				done();
			})
		);
	});
