import type { Attachment } from 'svelte/attachments';
import { page } from '$app/state';
import { fieldsOf, readField, writeField } from './form-fields';
import { copiesOf } from './typed-copies';

/**
 * Keeps the words that are typed into a form on this device until they are sent: a reload, the way back, or a session that ends cost nothing.
 * @param of what the words are about; each person has their own
 */
export function keepOnDevice(of: string): Attachment<HTMLFormElement> {
	return (form) => {
		const copies = copiesOf(`${(page.data.person as { id: string } | undefined)?.id ?? 'nobody'} ${of}`);
		form.dataset.kept = '';
		const fillIn = () => {
			for (const { name, value } of copies.all()) writeField(form, name, value);
		};
		fillIn();
		// what was sent from here and taken back stands in the field again
		const onback = (event: Event) => {
			if ((event as CustomEvent<string>).detail === of) fillIn();
		};
		const onchange = ({ target }: Event) => {
			const { name } = target as HTMLInputElement;
			if (name && fieldsOf(form).includes(name)) copies.keep(name, readField(form, name));
		};
		const onsent = () => copies.clear();
		form.addEventListener('input', onchange);
		form.addEventListener('change', onchange);
		form.addEventListener('lantern-sent', onsent);
		addEventListener('lantern-taken-back', onback);
		return () => {
			form.removeEventListener('input', onchange);
			form.removeEventListener('change', onchange);
			form.removeEventListener('lantern-sent', onsent);
			removeEventListener('lantern-taken-back', onback);
		};
	};
}
