import { tick } from 'svelte';
import type { Attachment } from 'svelte/attachments';
import { firstOf } from './keep-focus';

/**
 * What opens in place of the page: the focus goes to its first field, Esc closes it, and the focus goes back to what opened it.
 * @param close closes it
 */
export function inPlace(close: () => void): Attachment<HTMLElement> {
	return (element) => {
		const opener = document.activeElement instanceof HTMLElement && document.activeElement !== document.body ? document.activeElement : null;
		// what is opened by a person has the focus at once; whatever is loaded with the page does not take it
		if (opener) firstOf(element)?.focus();
		const onkeydown = (event: KeyboardEvent) => {
			if (event.key !== 'Escape' || event.defaultPrevented) return;
			event.preventDefault();
			event.stopPropagation();
			close();
			void tick().then(() => opener?.isConnected && opener.focus());
		};
		element.addEventListener('keydown', onkeydown);
		return () => element.removeEventListener('keydown', onkeydown);
	};
}
