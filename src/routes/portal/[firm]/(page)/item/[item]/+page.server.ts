import { redirect } from '@sveltejs/kit';
import { z } from 'zod';
import { answerSchema, reasonSchema } from '$lib/core/requests/request-form';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { signatureSchema } from '$lib/core/signing/signature';
import { DomainError } from '$lib/core/errors/domain-error';
import { saying } from '$lib/words/sayings';
import { portalRequest } from '$lib/server/desk-request';
import { idParam, inForm, inPage } from '$lib/server/form-errors';
import { removePaper } from '$lib/server/papers/papers';
import { answerItem, handInPapers, keepDraftAnswer, sayDoesNotApply, seeItem } from '$lib/server/requests/client-item';
import { readLetterDocument, readOwnItem } from '$lib/server/requests/read-requests';
import { declineLetter, noteLetterOpened, noteShownWhole, signLetter } from '$lib/server/signing/sign-letter';

export const load = async (event) => {
	const portal = await portalRequest(event);
	const id = idParam(event.params.item);
	return inPage(
		() =>
			portal.inFirm(async (tx, firm) => {
				if (!portal.lookedAtBy) await seeItem(tx, portal.actor, id);
				const item = await readOwnItem(tx, portal.actor, id);
				if (item.kind === 'letter' && !portal.lookedAtBy) await noteLetterOpened(tx, portal.actor, id);
				return {
					item: { ...item, nextChaseOn: null, contactName: '' },
					document: item.kind === 'letter' ? await readLetterDocument(tx, id) : null,
					today: localDate(portal.actor.now, firm.calendar),
					mayRead: item.contactId === portal.contactId
				};
			}),
		portal.locale
	);
};

type Event = Parameters<typeof portalRequest>[0] & { request: Request; params: { item: string; firm: string } };

/** Runs one thing a client does with an item; when it is done, the first page shows what is next. */
async function doIt(
	event: Event,
	leave: boolean,
	work: (portal: Awaited<ReturnType<typeof portalRequest>>, itemId: string, form: Record<string, FormDataEntryValue>) => Promise<void>
) {
	const form = await event.request.formData();
	const portal = await portalRequest(event);
	return inForm(
		form,
		async () => {
			await work(portal, idParam(event.params.item), Object.fromEntries(form));
			if (leave) redirect(303, `/portal/${event.params.firm}`);
			return { done: true };
		},
		portal.locale
	);
}

const signSchema = z.object({ signature: z.string().max(400_000), consent: z.literal('yes').optional() });

export const actions = {
	answer: (event) =>
		doIt(event, true, (portal, itemId, form) => portal.inFirm((tx) => answerItem(tx, portal.actor, { itemId, ...answerSchema.parse(form) }))),
	keep: (event) =>
		doIt(event, false, (portal, itemId, form) => portal.inFirm((tx) => keepDraftAnswer(tx, portal.actor, { itemId, ...answerSchema.parse(form) }))),
	handIn: (event) => doIt(event, true, (portal, itemId) => portal.inFirm((tx) => handInPapers(tx, portal.actor, itemId))),
	no: (event) =>
		doIt(event, true, (portal, itemId, form) => portal.inFirm((tx) => sayDoesNotApply(tx, portal.actor, { itemId, ...reasonSchema.parse(form) }))),
	removePaper: (event) =>
		doIt(event, false, (portal, itemId, form) =>
			portal.inFirm((tx) => removePaper(tx, portal.actor, { itemId, paperId: idParam(String(form.paperId)) }))
		),
	shown: (event) => doIt(event, false, (portal, itemId) => portal.inFirm((tx) => noteShownWhole(tx, portal.actor, itemId))),
	sign: (event) =>
		doIt(event, false, async (portal, itemId, form) => {
			const { signature, consent } = signSchema.parse(form);
			let made: unknown;
			try {
				made = JSON.parse(signature);
			} catch {
				throw new DomainError('invalid', saying('wrong.letter.broken'));
			}
			const mark = signatureSchema.parse(made);
			await portal.inFirm((tx) => signLetter(tx, portal.actor, { itemId, signature: mark, consent: consent === 'yes' }));
		}),
	decline: (event) =>
		doIt(event, true, (portal, itemId, form) => portal.inFirm((tx) => declineLetter(tx, portal.actor, { itemId, ...reasonSchema.parse(form) })))
};
