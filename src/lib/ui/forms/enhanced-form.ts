import { tick } from 'svelte';
import { say } from '$lib/words/words';
import { applyAction, enhance } from '$app/forms';
import { goto, invalidateAll } from '$app/navigation';
import type { FormProblem } from '$lib/web/form-errors';
import type { Attachment } from 'svelte/attachments';

export interface FormHandling {
	/** called with what was wrong; what was typed stays in the form */
	onProblem?: (problem: FormProblem) => void;
	onSuccess?: (data: Record<string, unknown> | undefined) => void | Promise<void>;
	/** puts away what the form stood in, once it is sent; left out if it is gone by then, for somebody may have opened something else meanwhile */
	close?: () => void;
	onPending?: (pending: boolean) => void;
	/** whether the page is read anew when somebody was faster; not where the page itself would be gone, and the message with it */
	readsAnew?: boolean;
}

/** Brings what was wrong before the person's eyes: the summary into view, the focus on the first field that is wrong, else on the summary. */
export function showProblem(form: HTMLElement): void {
	const summary =
		form.querySelector<HTMLElement>('[role=alert]') ??
		[...(form.closest('dialog, aside, main') ?? document).querySelectorAll<HTMLElement>('[role=alert]')].find((alert) => alert.checkVisibility());
	summary?.scrollIntoView({ block: 'nearest' });
	// whoever is in a field goes on there
	const at = document.activeElement;
	if (at && form.contains(at) && at.matches('input, textarea, select, [contenteditable=true]')) return;
	const field = form.querySelector<HTMLElement>('[aria-invalid=true]');
	const box = field?.getBoundingClientRect();
	if (field && box && (!summary || (box.top >= 0 && box.bottom <= innerHeight))) return field.focus();
	if (!summary) return;
	summary.tabIndex = -1;
	summary.focus({ preventScroll: true });
}

/**
 * Sends a form without leaving the page, also to another route's action, and keeps what was typed when it is refused. The form is told
 * how it went by the events `lantern-sent` and `lantern-refused`: what keeps its words listens to them.
 */
export function enhancedForm(handling: FormHandling = {}): Attachment<HTMLFormElement> {
	return (form) => {
		let pending = false;
		const problem = async (what: FormProblem) => {
			handling.onProblem?.(what);
			form.dispatchEvent(new Event('lantern-refused'));
			if (what.code === 'changed_meanwhile' && handling.readsAnew !== false) await invalidateAll();
			await tick();
			showProblem(form);
		};
		const sent = () => form.dispatchEvent(new Event('lantern-sent'));
		const { destroy } = enhance(form, ({ cancel }) => {
			if (pending) return cancel();
			pending = true;
			handling.onPending?.(true);
			return async ({ result }) => {
				try {
					if (result.type === 'failure') await problem((result.data as { problem: FormProblem }).problem);
					else if (result.type === 'success') {
						sent();
						if (form.isConnected) handling.close?.();
						if (handling.onSuccess) await handling.onSuccess(result.data as Record<string, unknown> | undefined);
						await invalidateAll();
					} else if (result.type === 'redirect') {
						sent();
						await goto(result.location, { invalidateAll: true });
					} else if (result.status !== undefined && result.status < 500 && result.error?.message)
						await problem({ message: result.error.message, fields: {}, values: {}, code: 'refused' });
					else if (handling.onProblem)
						await problem({
							message: say(document.documentElement.lang, 'wrong.lost'),
							fields: {},
							values: {},
							code: 'lost'
						});
					else await applyAction(result);
				} finally {
					pending = false;
					handling.onPending?.(false);
				}
			};
		});
		return destroy;
	};
}
