import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { DomainError } from '$lib/core/errors/domain-error';
import { compareAttachments } from '$lib/server/attachments/attachments';
import { requireStaff } from '$lib/server/actor';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inPage, jsonField } from '$lib/web/form-errors';

const UNREADABLE = 'The places could not be read. Load the page again.';
/** Characters of the places of a letter, at most. */
const PLACES_LONGEST = 600_000;
const boxes = z
	.array(z.object({ page: z.number().int().min(1).max(2000), x: z.number(), y: z.number(), width: z.number(), height: z.number() }))
	.max(600);

/** Where the places of a PDF that is to be signed are on a new edition of it, and what that says otherwise. */
export const POST = async (event) => {
	const desk = await deskRequest(event);
	const before = idParam(event.params.attachment);
	return json(
		await inPage(async () => {
			requireStaff(desk.actor, 'send_request');
			const form = await event.request.formData().catch(() => {
				throw new DomainError('invalid', UNREADABLE);
			});
			const places = boxes.safeParse(jsonField(form, 'places', PLACES_LONGEST, UNREADABLE));
			if (!places.success) throw new DomainError('invalid', UNREADABLE);
			const after = idParam(String(form.get('after')));
			return compareAttachments(desk.context, desk.firmId, desk.actor, { before, after, places: places.data });
		})
	);
};
