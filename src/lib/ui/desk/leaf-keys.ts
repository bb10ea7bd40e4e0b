import { tick } from 'svelte';
import type { Attachment } from 'svelte/attachments';
import { firstOf, focusable } from '../forms/keep-focus';

/** Whether a key that is pressed belongs to what somebody types, or to a dialog that is open. */
export function isTyping(event: KeyboardEvent): boolean {
	const target = event.target as HTMLElement;
	return (
		event.ctrlKey ||
		event.altKey ||
		event.metaKey ||
		target.isContentEditable ||
		/^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName) ||
		document.querySelector('dialog[open]') !== null
	);
}

/**
 * The keys of an open leaf: a letter presses the button that names it (`aria-keyshortcuts`), `q` begins to write about it, and `.` leads to
 * what can be done. No button that sends, signs or destroys names a letter.
 */
export const leafKeys: Attachment<HTMLElement> = (leaf) => {
	const onkeydown = (event: KeyboardEvent) => {
		if (event.defaultPrevented || isTyping(event)) return;
		if (event.key === '.') {
			const acts = leaf.querySelector<HTMLElement>('[data-acts]') ?? leaf;
			(firstOf(acts) ?? focusable(leaf)[0])?.focus();
		} else {
			const button = /^[a-z]$/.test(event.key)
				? leaf.querySelector<HTMLButtonElement>(`button[aria-keyshortcuts="${event.key}"]:not(:disabled)`)
				: null;
			if (!button && event.key !== 'q') return;
			// pressed again it leads back to what it opened
			if (button?.getAttribute('aria-expanded') === 'true') focusable(leaf, '[data-first]')[0]?.focus();
			else button?.click();
			if (event.key === 'q') void tick().then(() => leaf.querySelector<HTMLElement>('[data-talk]')?.focus());
		}
		event.preventDefault();
	};
	addEventListener('keydown', onkeydown);
	return () => removeEventListener('keydown', onkeydown);
};
