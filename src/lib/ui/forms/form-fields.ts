import type { TypedValue } from '$lib/core/requests/typed';

type Control = HTMLInputElement | HTMLTextAreaElement | HTMLSelectElement;
const ticked = (control: Control): control is HTMLInputElement => control instanceof HTMLInputElement && /^(checkbox|radio)$/.test(control.type);

/** The controls of a form that a person fills in, without what is secret, a file, or filled in by the page. */
function controlsOf(form: HTMLFormElement): Control[] {
	return [...form.elements].filter(
		(element): element is Control =>
			(element instanceof HTMLInputElement || element instanceof HTMLTextAreaElement || element instanceof HTMLSelectElement) &&
			element.name !== '' &&
			!/^(hidden|password|file|submit|button)$/.test(element.type) &&
			element.closest('[data-not-kept]') === null
	);
}

/** The names of what a person fills in. */
export const fieldsOf = (form: HTMLFormElement): string[] => [...new Set(controlsOf(form).map((control) => control.name))];

/** What stands in a field: one value, or all that are ticked. */
export function readField(form: HTMLFormElement, name: string): TypedValue {
	const controls = controlsOf(form).filter((control) => control.name === name);
	const boxes = controls.filter(ticked);
	if (boxes.length === 0) return controls[0]?.value ?? '';
	const chosen = boxes.filter((box) => box.checked).map((box) => box.value);
	// beside choices a field of the same name is for another one
	const written = controls.find((control) => !ticked(control))?.value ?? '';
	if (written !== '') return [...chosen, written];
	return boxes[0].type === 'radio' ? (chosen[0] ?? '') : chosen;
}

/** Puts a value into a field, as if it had been typed there. */
export function writeField(form: HTMLFormElement, name: string, value: TypedValue): void {
	const values = Array.isArray(value) ? value : [value];
	const controls = controlsOf(form).filter((one) => one.name === name);
	const choices = controls.filter(ticked).map((box) => box.value);
	const written = values.find((one) => !choices.includes(one)) ?? '';
	for (const control of controls) {
		if (ticked(control)) {
			if (control.checked === values.includes(control.value)) continue;
			control.checked = values.includes(control.value);
			control.dispatchEvent(new Event('change', { bubbles: true }));
		} else if (control.value !== written) {
			control.value = written;
			control.dispatchEvent(new Event('input', { bubbles: true }));
		}
	}
}
