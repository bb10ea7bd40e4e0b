import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { MESSAGE_TEXT_KINDS } from '$lib/core/messages/message-texts';
import { deskRequest } from '$lib/web/desk-request';
import { inPage } from '$lib/web/form-errors';
import { readOffered, readTextsFor } from '$lib/server/library/message-texts';

const kindSchema = z.enum(MESSAGE_TEXT_KINDS);
/** To whom something is written; without them fields stay as they are. */
const toSchema = z.object({ clientId: z.uuid(), contactId: z.uuid() });

/** The texts of one kind that may be taken into a form: the firm's own, and then those that ship with the product. */
export const GET = async (event) => {
	const desk = await deskRequest(event);
	const kind = kindSchema.safeParse(event.url.searchParams.get('kind'));
	if (!kind.success) return json([], { status: 400 });
	const to = toSchema.safeParse(Object.fromEntries(event.url.searchParams));
	if (to.success) return json(await inPage(() => desk.inFirm((tx, firm) => readTextsFor(tx, desk.actor, firm, kind.data, to.data))));
	return json(await desk.inFirm((tx) => readOffered(tx, desk.actor, kind.data)));
};
