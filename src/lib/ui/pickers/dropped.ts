// A place on the page that takes a file which is dropped there.

/**
 * As an attachment of the element that takes it.
 * @param open is called with the file
 * @param over hears whether something is held above it
 */
export const takesFile =
	(open: (file: File) => void, over: (held: boolean) => void) =>
	(place: HTMLElement): (() => void) => {
		const hold = (event: DragEvent) => {
			event.preventDefault();
			over(true);
		};
		const leave = () => over(false);
		const drop = (event: DragEvent) => {
			event.preventDefault();
			over(false);
			const file = event.dataTransfer?.files[0];
			if (file) open(file);
		};
		place.addEventListener('dragover', hold);
		place.addEventListener('dragleave', leave);
		place.addEventListener('drop', drop);
		return () => {
			place.removeEventListener('dragover', hold);
			place.removeEventListener('dragleave', leave);
			place.removeEventListener('drop', drop);
		};
	};
