import type { Attachment } from 'svelte/attachments';
import type { TypedValue } from '$lib/core/requests/typed';
import { fieldsOf, readField, writeField } from '../forms/form-fields';

/**
 * Keeps what somebody unknown types into a form in their tab alone: it is there after a reload, and gone with the tab or once it was sent.
 * Nothing of it reaches the firm before that.
 * @param of which form
 */
export function keepInTab(of: string): Attachment<HTMLFormElement> {
	const key = `lantern-page ${of}`;
	// private windows may refuse to keep anything: typing goes on without
	const read = (): Record<string, TypedValue> => {
		try {
			return JSON.parse(sessionStorage.getItem(key) ?? '{}') as Record<string, TypedValue>;
		} catch {
			return {};
		}
	};
	const write = (all: Record<string, TypedValue>) => {
		try {
			sessionStorage.setItem(key, JSON.stringify(all));
		} catch {
			// see above
		}
	};
	return (form) => {
		const keep = () => write(Object.fromEntries(fieldsOf(form).map((name) => [name, readField(form, name)])));
		const kept = read();
		// what was typed before the page came alive is newer
		const isEmpty = (name: string) => [readField(form, name)].flat().join('') === '';
		for (const [name, value] of Object.entries(kept)) if (isEmpty(name)) writeField(form, name, value);
		const forget = () => sessionStorage.removeItem(key);
		form.addEventListener('input', keep);
		form.addEventListener('change', keep);
		form.addEventListener('lantern-sent', forget);
		return () => {
			form.removeEventListener('input', keep);
			form.removeEventListener('change', keep);
			form.removeEventListener('lantern-sent', forget);
		};
	};
}
