import type { Attachment } from 'svelte/attachments';

/**
 * Sends the form of a field by Enter with one other key: `ctrl` (or the command key) for what goes to a client, `alt` for what only the
 * firm reads. Neither field answers to the key of the other, so that a note is never sent by habit.
 */
export function sendByKey(key: 'ctrl' | 'alt'): Attachment<HTMLTextAreaElement> {
	return (field) => {
		const onkeydown = (event: KeyboardEvent) => {
			const ctrl = event.ctrlKey || event.metaKey;
			if (event.key !== 'Enter' || event.isComposing || (!ctrl && !event.altKey)) return;
			event.preventDefault();
			if (ctrl === (key === 'ctrl') && event.altKey === (key === 'alt')) field.form?.requestSubmit();
		};
		field.addEventListener('keydown', onkeydown);
		return () => field.removeEventListener('keydown', onkeydown);
	};
}
