import { Readable } from 'node:stream';
import { sendSignedPaper } from '$lib/server/requests/signed-on-paper';
import type { ReadableStream as WebStream } from 'node:stream/web';
import { redirect } from '@sveltejs/kit';
import { laterSchema, pinSchema, reasonSchema, remarkSchema } from '$lib/core/requests/request-form';
import { addDays, localDate } from '$lib/core/calendar/firm-calendar';
import { filesToApprove } from '$lib/core/requests/files-beside';
import { statementLineAnswerForm, typedStatementLineForm } from '$lib/core/transactions/statement-line-questions';
import { DomainError } from '$lib/core/errors/domain-error';
import { saying } from '$lib/words/sayings';
import { portalRequest } from '$lib/web/desk-request';
import { typedSchema } from '$lib/core/requests/typed-schema';
import { idParam, inForm, inPage, jsonField, typedForm } from '$lib/web/form-errors';
import { questionsForClient, type KnownAnswer } from '$lib/server/item-kinds/kinds/questions-for-client';
import { handIn } from '$lib/server/item-kinds/hand-in';
import { removePaper, takeInPaper } from '$lib/server/papers/papers';
import { askForTime, goOnWith, keepTyped, LATER_DAYS, sayAlreadySent, sayDoesNotApply, seeItem } from '$lib/server/items/client-item';
import { passedDone, passOn, passOnSchema, readPassing } from '$lib/server/items/passing-on';
import { isOpen } from '$lib/core/requests/item-states';
import { takeBackRequest } from '$lib/server/requests/own-requests';
import { markOwnRemarksSeen, readRemarks, writeOwnRemark } from '$lib/server/items/remarks';
import { readLetterPages, readOwnItem, type OwnItem } from '$lib/server/items/read-items';
import { answerStatementLine, keepTypedStatementLine } from '$lib/server/transactions/answer-statement-lines';
import { signingForm } from '$lib/web/signing-form';
import { fieldsOf } from '$lib/core/signing/places';
import { readKnownPlaces } from '$lib/server/letters/known-places';
import { declineLetter, noteLetterOpened, noteShownWhole, opensAfterCheck, readLastMark } from '$lib/server/signing/sign-letter';

export const load = async (event) => {
	const portal = await portalRequest(event);
	const id = idParam(event.params.item);
	return inPage(
		() =>
			portal.inFirm(async (tx, firm) => {
				if (!portal.lookedAtBy) await seeItem(tx, portal.actor, id);
				const item = await readOwnItem(tx, portal.actor, id);
				if (item.unseenByClient > 0 && !portal.lookedAtBy) await markOwnRemarksSeen(tx, id, portal.actor.now);
				const afterCheck = item.kind === 'letter' && (await opensAfterCheck(tx, portal.actor, id));
				if (afterCheck && item.kind === 'letter') item.spec = { replaces: null };
				if (item.kind === 'letter' && !afterCheck && !portal.lookedAtBy) await noteLetterOpened(tx, portal.actor, id);
				const [file] = item.kind === 'approve' ? filesToApprove(item).current : [];
				if (file?.contentType === 'application/pdf' && !event.isDataRequest)
					event.locals.comesFirst = `/portal/${event.params.firm}/attachments/${file.id}/first-page`;
				const today = localDate(portal.actor.now, firm.calendar);
				let known: Record<string, KnownAnswer> = {};
				if (item.kind === 'questionnaire') {
					const of = { clientId: item.clientId, questions: item.spec.questions, beforeId: item.spec.from?.before ?? null };
					const asked = await questionsForClient(tx, portal.actor, of, portal.locale);
					item.spec = { ...item.spec, questions: asked.questions, ends: [] };
					// who of the firm corrected what, and what was read when, stays there
					item.review = { askedBack: item.review.askedBack, unknown: item.review.unknown };
					known = asked.known;
				}
				const pages = item.kind === 'letter' && !afterCheck ? await readLetterPages(tx, id) : null;
				return {
					known,
					afterCheck,
					passing: item.kind === 'questionnaire' && isOpen(item.state) ? await readPassing(tx, portal.actor, id) : { people: [], passed: [] },
					// who else is asked matters only where somebody else has to sign
					item: { ...item, nextChaseOn: null, contactName: isSigned(item) && item.contactId !== portal.contactId ? item.contactName : '' },
					pages,
					knownPlaces:
						pages && isOpen(item.state)
							? await readKnownPlaces(tx, portal.actor, item.clientId, fieldsOf(pages.places, pages.own), portal.locale)
							: {},
					lastMark: item.kind === 'letter' && isOpen(item.state) && !portal.lookedAtBy ? await readLastMark(tx, portal.actor) : null,
					remarks: await readRemarks(tx, portal.actor, id),
					now: portal.actor.now,
					today,
					later: { from: addDays(today, 1), to: addDays(today, LATER_DAYS) },
					mayRead: item.contactId === portal.contactId
				};
			}),
		portal.locale
	);
};

const isSigned = (item: OwnItem) => item.kind === 'letter' || (item.kind === 'questionnaire' && item.spec.signed);

type Event = Parameters<typeof portalRequest>[0] & { request: Request; params: { item: string; firm: string } };

/** Runs one thing a client does with an item; when it is done, the first page shows what is next. */
async function doIt(
	event: Event,
	leave: boolean,
	work: (
		portal: Awaited<ReturnType<typeof portalRequest>>,
		itemId: string,
		values: Record<string, FormDataEntryValue>,
		form: FormData
	) => Promise<void>
) {
	const form = await event.request.formData();
	const portal = await portalRequest(event);
	return inForm(
		form,
		async () => {
			await work(portal, idParam(event.params.item), Object.fromEntries(form), form);
			// the first page says what was done, and shows what is next
			if (leave) redirect(303, `/portal/${event.params.firm}?done=${event.params.item}`);
			return { done: true };
		},
		portal.locale
	);
}

export const actions = {
	/** What the client gives, by the kind of the item. */
	handIn: (event) =>
		doIt(event, true, (portal, itemId, _, form) =>
			portal.inFirm((tx) => handIn(tx, portal.actor, itemId, typedForm(form), { secretKey: portal.context.settings.SECRET_KEY }))
		),
	/** What is typed so far, in whatever field. */
	keep: async (event) => {
		const form = await event.request.formData();
		const portal = await portalRequest(event);
		return inForm(
			form,
			async () => {
				const typed = typedSchema.parse(jsonField(form, 'typed', 700_000, saying('wrong.typed')));
				// several times a second while somebody types: nothing of the firm is read that is not needed
				const kept = await portal.context.db.inFirm(
					portal.firmId,
					(tx) => keepTyped(tx, portal.actor, { itemId: idParam(event.params.item), ...typed }),
					portal.contactId
				);
				return { now: portal.actor.now, kept };
			},
			portal.locale
		);
	},
	goOn: (event) => doIt(event, false, (portal, itemId) => portal.inFirm((tx) => goOnWith(tx, portal.actor, itemId))),
	pin: (event) =>
		doIt(event, false, (portal, itemId, form) =>
			portal.inFirm((tx) => writeOwnRemark(tx, portal.actor, { itemId, ...remarkSchema.parse(form), pinned: pinSchema.parse(form) }))
		),
	writeRemark: (event) =>
		doIt(event, false, (portal, itemId, form) =>
			portal.inFirm((tx) => writeOwnRemark(tx, portal.actor, { itemId, ...remarkSchema.parse(form), pinned: null }))
		),
	/** Somebody else of theirs is asked for an answer. */
	passOn: (event) =>
		doIt(event, false, (portal, itemId, form) => portal.inFirm((tx) => passOn(tx, portal.actor, { itemId, ...passOnSchema.parse(form) }))),
	passedDone: (event) =>
		doIt(event, false, (portal, itemId, form) => portal.inFirm((tx) => passedDone(tx, portal.actor, { itemId, id: idParam(String(form.id)) }))),
	takeBack: (event) => doIt(event, true, (portal, itemId) => portal.inFirm((tx) => takeBackRequest(tx, portal.actor, itemId))),
	askForTime: (event) =>
		doIt(event, true, (portal, itemId, form) => portal.inFirm((tx) => askForTime(tx, portal.actor, { itemId, ...laterSchema.parse(form) }))),
	sayAlreadySent: (event) =>
		doIt(event, true, (portal, itemId, form) => portal.inFirm((tx) => sayAlreadySent(tx, portal.actor, { itemId, ...reasonSchema.parse(form) }))),
	/** What is typed of the answer to one line of a question about transactions. */
	keepLine: (event) =>
		doIt(event, false, (portal, itemId, form) =>
			portal.inFirm((tx) => keepTypedStatementLine(tx, portal.actor, { itemId, ...typedStatementLineForm.parse(form) }))
		),
	/** The answer to that line. */
	answerStatementLine: (event) =>
		doIt(event, false, (portal, itemId, form) => {
			const { lineId, ...answer } = statementLineAnswerForm.parse(form);
			return portal.inFirm((tx) => answerStatementLine(tx, portal.actor, { itemId, lineId, answer }));
		}),
	sayNo: (event) =>
		doIt(event, true, (portal, itemId, form) => portal.inFirm((tx) => sayDoesNotApply(tx, portal.actor, { itemId, ...reasonSchema.parse(form) }))),
	/** Adds files where no scripts run. */
	add: async (event) => {
		const form = await event.request.formData();
		const portal = await portalRequest(event);
		return inForm(
			form,
			async () => {
				const itemId = idParam(event.params.item);
				const slot = String(form.get('slot') ?? '') || null;
				const files = form.getAll('files').filter((file): file is File => file instanceof File && file.name !== '');
				if (files.length === 0) throw new DomainError('invalid', saying('wrong.item.noFile'));
				for (const file of files)
					await takeInPaper(portal.context, portal.firmId, portal.actor, {
						itemId,
						slot,
						name: file.name,
						content: Readable.fromWeb(file.stream() as WebStream)
					});
				return { done: true };
			},
			portal.locale
		);
	},
	removePaper: (event) =>
		doIt(event, false, (portal, itemId, form) =>
			portal.inFirm((tx) => removePaper(tx, portal.actor, { itemId, paperId: idParam(String(form.paperId)) }))
		),
	noteShown: (event) => doIt(event, false, (portal, itemId) => portal.inFirm((tx) => noteShownWhole(tx, portal.actor, itemId))),
	sign: (event) =>
		doIt(event, false, async (portal, itemId, _, form) => {
			const signing = signingForm(form);
			await portal.inFirm((tx) => signing(tx, portal.actor, itemId, 'portal', portal.context.settings.SECRET_KEY));
		}),
	/** The pages are there that they signed by hand. */
	sendPaper: (event) => doIt(event, false, (portal, itemId) => portal.inFirm((tx) => sendSignedPaper(tx, portal.actor, itemId))),
	decline: (event) =>
		doIt(event, true, (portal, itemId, form) => portal.inFirm((tx) => declineLetter(tx, portal.actor, { itemId, ...reasonSchema.parse(form) })))
};
