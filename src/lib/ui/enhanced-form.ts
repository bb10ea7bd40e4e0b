import { applyAction, enhance } from '$app/forms';
import { goto, invalidateAll } from '$app/navigation';
import type { FormProblem } from '$lib/server/form-errors';
import type { Attachment } from 'svelte/attachments';

export interface FormHandling {
	/** called with what was wrong; what was typed stays in the form */
	onProblem?: (problem: FormProblem) => void;
	onSuccess?: (data: Record<string, unknown> | undefined) => void | Promise<void>;
	onPending?: (pending: boolean) => void;
}

/** Sends a form without leaving the page, also to another route's action, and keeps what was typed when it is refused. */
export function enhancedForm(handling: FormHandling = {}): Attachment<HTMLFormElement> {
	return (form) => {
		let pending = false;
		const { destroy } = enhance(form, ({ cancel }) => {
			if (pending) return cancel();
			pending = true;
			handling.onPending?.(true);
			return async ({ result }) => {
				try {
					if (result.type === 'failure') {
						handling.onProblem?.((result.data as { problem: FormProblem }).problem);
						if ((result.data as { problem: FormProblem }).problem?.code === 'changed_meanwhile') await invalidateAll();
					} else if (result.type === 'success') {
						if (handling.onSuccess) await handling.onSuccess(result.data as Record<string, unknown> | undefined);
						await invalidateAll();
					} else if (result.type === 'redirect') {
						await goto(result.location, { invalidateAll: true });
					} else if (result.status !== undefined && result.status < 500 && result.error?.message) {
						handling.onProblem?.({ message: result.error.message, fields: {}, values: {}, code: 'refused' });
					} else if (handling.onProblem) {
						handling.onProblem({
							message: 'That did not reach us. What you typed is still here; please try again.',
							fields: {},
							values: {},
							code: 'lost'
						});
					} else await applyAction(result);
				} finally {
					pending = false;
					handling.onPending?.(false);
				}
			};
		});
		return destroy;
	};
}
