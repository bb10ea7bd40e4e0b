import { ANSWER } from '$lib/core/requests/typed';
import { typedSchema } from '$lib/core/requests/typed-schema';
import { reasonSchema, remarkSchema } from '$lib/core/requests/request-form';
import { isOpen } from '$lib/core/requests/item-states';
import { fieldsOf } from '$lib/core/signing/places';
import { phoneInWords } from '$lib/core/people/phone';
import { CHECK_MINUTES } from '$lib/core/signing/identity-check';
import { asksCode, LETTER_CODE_MINUTES, SEALED_BY_LINK_DAYS } from '$lib/core/signing/ways';
import { DomainError } from '$lib/core/errors/domain-error';
import { keepTyped, seeItem } from '$lib/server/items/client-item';
import { readLetterPages, readOwnItem } from '$lib/server/items/read-items';
import { markOwnRemarksSeen, readRemarks, writeOwnRemark } from '$lib/server/items/remarks';
import { readKnownPlaces } from '$lib/server/letters/known-places';
import { beginLetterVisit, endLetterVisit, giveLetterCode, readLetterDoor } from '$lib/server/signing/letter-links';
import { answerIdentityCheck, beginIdentityCheck } from '$lib/server/signing/identity-checks';
import { declineLetter, noteLetterOpened, noteShownWhole, readLastMark } from '$lib/server/signing/sign-letter';
import { clearLetterCookie, readLetterCookie, setLetterCookie } from '$lib/web/cookies';
import { firmOfPortal } from '$lib/web/desk-request';
import { inForm, inPage, jsonField } from '$lib/web/form-errors';
import { letterRequest, requireVisitor, type LetterRequest } from '$lib/web/letter-request';
import { signingForm } from '$lib/web/signing-form';
import { saying } from '$lib/words/sayings';

export const load = async (event) => {
	const portal = await firmOfPortal(event);
	const { context, firm, locale } = portal;
	const { actor } = event.locals;
	return inPage(async () => {
		const here = await letterRequest(event, portal);
		if (!here.visitor) await context.limits.publicPageOpened(actor.ip);
		const door = await context.db.inFirm(firm.id, (tx) => readLetterDoor(tx, event.params.link, here.token, actor.now));
		const letter = here.visitor && (await readLetter(here.visitor, locale));
		return {
			door,
			letter,
			now: actor.now,
			minutes: LETTER_CODE_MINUTES,
			checkMinutes: CHECK_MINUTES,
			phone: firm.phone && { number: firm.phone, words: phoneInWords(firm.phone, firm.country) },
			days: SEALED_BY_LINK_DAYS
		};
	}, locale);
};

/** The letter as whoever was let in sees it; it is noted that they opened it. */
function readLetter(visitor: NonNullable<LetterRequest['visitor']>, locale: string) {
	const { itemId, actor, email, way, outside } = visitor;
	return visitor.inFirm(async (tx) => {
		await seeItem(tx, actor, itemId);
		const item = await readOwnItem(tx, actor, itemId);
		if (item.unseenByClient > 0) await markOwnRemarksSeen(tx, itemId, actor.now);
		await noteLetterOpened(tx, actor, itemId);
		const pages = await readLetterPages(tx, itemId);
		// what is known of a person is shown to nobody who may have been passed their link
		const known = pages && isOpen(item.state) && asksCode(way);
		return {
			item: { ...item, nextChaseOn: null, contactName: '' },
			pages,
			person: { id: actor.id, name: actor.name, email },
			// nor what is known of a client to somebody who is not of it
			knownPlaces: known && !outside ? await readKnownPlaces(tx, actor, item.clientId, fieldsOf(pages.places, pages.own), locale) : {},
			lastMark: known ? await readLastMark(tx, actor) : null,
			remarks: await readRemarks(tx, actor, itemId)
		};
	});
}

type Event = Parameters<typeof letterRequest>[0];

/** Runs one thing that somebody does who was let in. */
async function doIt(event: Event, work: (visitor: NonNullable<LetterRequest['visitor']>, form: FormData, here: LetterRequest) => Promise<unknown>) {
	const form = await event.request.formData();
	const portal = await firmOfPortal(event);
	return inForm(
		form,
		async () => {
			const here = await letterRequest(event, portal);
			const answer = await work(requireVisitor(here), form, here);
			return { done: true, ...(answer && typeof answer === 'object' ? answer : {}) };
		},
		portal.locale
	);
}

/** Runs one thing at the door, whether or not this browser was let in. @param work is given what the browser holds, and what it sends */
async function atDoor(
	event: Event,
	work: (context: LetterRequest['context'], firmId: string, token: string | undefined, form: FormData) => Promise<unknown>
) {
	const { context, firm, locale } = await firmOfPortal(event);
	const form = await event.request.formData();
	return inForm(
		form,
		async () => {
			await work(context, firm.id, readLetterCookie(event.cookies, event.params.link), form);
			return { done: true };
		},
		locale
	);
}

export const actions = {
	/** Opens the letter, or sends the code for it. */
	open: (event) =>
		atDoor(event, async (context, firmId) => {
			setLetterCookie(event.cookies, event.params.link, await beginLetterVisit(context, firmId, event.locals.actor, event.params.link));
		}),
	enter: (event) =>
		atDoor(event, async (context, firmId, token, form) => {
			const code = String(form.get('code') ?? '').slice(0, 40);
			const outcome = await giveLetterCode(context, firmId, event.locals.actor, event.params.link, token, code);
			if (outcome === 'over') throw new DomainError('changed_meanwhile', saying('wrong.letterLink.codeOver'));
			if (outcome === 'wrong') throw new DomainError('invalid', saying('wrong.letterLink.code'), { code: saying('wrong.letterLink.code') });
		}),
	/** Has the service ask who they are. */
	check: (event) => atDoor(event, (context, firmId, token) => beginIdentityCheck(context, firmId, event.locals.actor, event.params.link, token)),
	/** Takes the answers to what the service asked. */
	prove: (event) =>
		atDoor(event, async (context, firmId, token, form) => {
			const given = Object.fromEntries([...form].map(([name, choice]) => [name.replace(ANSWER, ''), choice]));
			const outcome = await answerIdentityCheck(context, firmId, event.locals.actor, event.params.link, token, given);
			if (outcome === 'failed') throw new DomainError('changed_meanwhile', saying('wrong.check.failed'));
		}),
	leave: (event) =>
		atDoor(event, async (context, firmId, token) => {
			if (token) await context.db.inFirm(firmId, (tx) => endLetterVisit(tx, token));
			clearLetterCookie(event.cookies, event.params.link);
		}),
	keep: (event) =>
		doIt(event, async ({ inFirm, actor, itemId }, form) => {
			const typed = typedSchema.parse(jsonField(form, 'typed', 700_000, saying('wrong.typed')));
			return { now: actor.now, kept: await inFirm((tx) => keepTyped(tx, actor, { itemId, ...typed })) };
		}),
	noteShown: (event) => doIt(event, ({ inFirm, actor, itemId }) => inFirm((tx) => noteShownWhole(tx, actor, itemId))),
	sign: (event) =>
		doIt(event, async ({ inFirm, actor, itemId, way }, form, { context }) => {
			const signing = signingForm(form);
			await inFirm((tx) => signing(tx, actor, itemId, way, context.settings.SECRET_KEY));
		}),
	decline: (event) =>
		doIt(event, ({ inFirm, actor, itemId }, form) =>
			inFirm((tx) => declineLetter(tx, actor, { itemId, ...reasonSchema.parse(Object.fromEntries(form)) }))
		),
	writeRemark: (event) =>
		doIt(event, ({ inFirm, actor, itemId }, form) =>
			inFirm((tx) => writeOwnRemark(tx, actor, { itemId, ...remarkSchema.parse(Object.fromEntries(form)), pinned: null }))
		)
};
