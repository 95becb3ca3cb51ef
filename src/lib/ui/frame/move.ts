/** Arrow keys move the focus among the elements marked `data-move` below the node; Home and End go to the ends. */
export function arrowKeys(node: HTMLElement): () => void {
	const onkeydown = (event: KeyboardEvent) => {
		const steps: Record<string, number> = { ArrowDown: 1, ArrowUp: -1, Home: -Infinity, End: Infinity };
		const step = steps[event.key];
		if (step === undefined || event.ctrlKey || event.altKey) return;
		const list = [...node.querySelectorAll<HTMLElement>('[data-move]')];
		const at = list.indexOf((event.target as HTMLElement).closest<HTMLElement>('[data-move]')!);
		if (at < 0) return;
		event.preventDefault();
		list[Math.max(0, Math.min(list.length - 1, at + step))]?.focus();
	};
	node.addEventListener('keydown', onkeydown);
	return () => node.removeEventListener('keydown', onkeydown);
}
