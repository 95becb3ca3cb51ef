/**
 * Arrow keys move the focus among the elements marked `data-move` below the node; Home and End go to the ends. An element
 * that is put at another place keeps the focus: the browser would drop it.
 */
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
	let held: Element | null = null;
	const onfocusin = (event: FocusEvent) => (held = event.target as Element);
	const moved = new MutationObserver((changes) => {
		const taken = changes.some(({ removedNodes }) => [...removedNodes].some((one) => one.contains(held)));
		if (taken && node.contains(held) && document.activeElement === document.body)
			(held as HTMLElement).focus();
	});
	moved.observe(node, { childList: true, subtree: true });
	node.addEventListener('keydown', onkeydown);
	node.addEventListener('focusin', onfocusin);
	return () => {
		moved.disconnect();
		node.removeEventListener('keydown', onkeydown);
		node.removeEventListener('focusin', onfocusin);
	};
}
