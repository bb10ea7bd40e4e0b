import { z } from 'zod';
import { digestSchema, findSealedFile } from '$lib/server/signing/check-file';
import { firmOfPortal } from '$lib/web/desk-request';
import { inForm } from '$lib/web/form-errors';

export const actions = {
	/** Asked by its digest: the file itself stays where it is. */
	default: async (event) => {
		const { context, firm, locale } = await firmOfPortal(event);
		const form = await event.request.formData();
		return inForm(
			form,
			async () => {
				const digest = z.string().max(200).pipe(digestSchema).parse(form.get('digest'));
				return { checked: { digest, file: await findSealedFile(context, firm.id, event.locals.actor, digest) } };
			},
			locale
		);
	}
};
