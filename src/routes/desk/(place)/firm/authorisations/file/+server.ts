import { z } from 'zod';
import { contentDisposition } from '$lib/core/papers/file-name';
import { handOnAccounts } from '$lib/server/signing/payment-authorisations';
import { deskRequest } from '$lib/web/desk-request';
import { inPage } from '$lib/web/form-errors';

/** The accounts that clients named, as a file for whoever collects. It is a post, since what is new is noted as handed on. */
export const POST = async (event) => {
	const desk = await deskRequest(event);
	const form = await event.request.formData();
	const which = z.enum(['new', 'all']).catch('new').parse(form.get('which'));
	return inPage(() =>
		desk.inFirm(async (tx) => {
			const { name, csv } = await handOnAccounts(tx, desk.actor, desk.context.settings.SECRET_KEY, which);
			return new Response(csv, {
				headers: { 'content-type': 'text/csv; charset=utf-8', 'content-disposition': contentDisposition('attachment', name) }
			});
		})
	);
};
