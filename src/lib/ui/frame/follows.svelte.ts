// Boxes whose text is part of the address: they follow it, but never take back what is being typed.
import type { Attachment } from 'svelte/attachments';

/**
 * Keeps a box at a text that comes from elsewhere. While somebody types, answers to what was typed a moment ago come in
 * late; those change nothing in the box.
 */
export const follows =
	(text: () => string): Attachment<HTMLInputElement> =>
	(box) => {
		let typed: string[] = [];
		const note = () => void typed.push(box.value);
		const forget = () => void (typed = []);
		box.addEventListener('input', note);
		box.addEventListener('blur', forget);
		$effect(() => {
			const next = text();
			const late = document.activeElement === box && typed.includes(next);
			if (!late && box.value !== next) box.value = next;
		});
		return () => {
			box.removeEventListener('input', note);
			box.removeEventListener('blur', forget);
		};
	};
