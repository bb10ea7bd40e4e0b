import { error, type RequestEvent } from '@sveltejs/kit';
import { languageOfBrowser } from '$lib/core/people/languages';
import { say } from '$lib/words/words';
import type { Actor } from '$lib/server/actor';
import { findShortName, loadFirm, type Firm } from '$lib/server/firms/firm';
import { withBrandOf } from '$lib/server/firms/brands';
import { inviteeOf } from '$lib/server/invitations/take-up-invitation';
import { readerOfLink } from '$lib/server/signing/letter-links';
import { inForm } from './form-errors';
import { asStaff, type Tx } from '$lib/server/platform/db/database';
import { readingOf, readOnly, sharedReading, type Reading } from '$lib/server/platform/db/shared-reading';
import { readVisitCookie } from './cookies';
import { webContext, type WebContext } from './web-context';

/** What a desk route works with: the context, the firm of whoever is signed in, and a transaction in it. */
export interface DeskRequest {
	context: WebContext;
	firmId: string;
	actor: Actor;
	inFirm<T>(work: (tx: Tx, firm: Firm) => Promise<T>): Promise<T>;
	/** the same for a part of a page that changes nothing: all parts share one transaction */
	read: Reading<Firm>;
}

export async function deskRequest(event: Pick<RequestEvent, 'locals'>): Promise<DeskRequest> {
	const { signedIn, actor } = event.locals;
	if (!signedIn || signedIn.kind !== 'staff') error(401, 'Please sign in.');
	const real = await webContext();
	const opened = { ...real, db: asStaff(real.db, signedIn.personId) };
	return {
		context: opened,
		firmId: signedIn.firmId,
		actor,
		inFirm: (work) => opened.db.inFirm(signedIn.firmId, async (tx) => work(tx, await loadFirm(tx))),
		read: readingOf(event.locals, 'desk', () => sharedReading(readOnly(opened.db, signedIn.firmId), loadFirm))
	};
}

/**
 * Runs one change that a form of the desk asks for, in one transaction; a person's mistake comes back to the form.
 * @param work what it answers with, if it is an object of fields, goes back to the page
 */
export async function deskForm(
	event: Pick<RequestEvent, 'locals' | 'request'>,
	work: (tx: Tx, desk: DeskRequest, form: FormData, firm: Firm) => Promise<unknown>
) {
	const form = await event.request.formData();
	return inForm(form, async () => {
		const desk = await deskRequest(event);
		const answer = await desk.inFirm((tx, firm) => work(tx, desk, form, firm));
		return { done: true, ...(answer && typeof answer === 'object' ? answer : {}) };
	});
}

/**
 * The firm behind a portal's address in the brand its visitor sees, and the language they read: their own if they are
 * signed in, else what they chose here, that of their invitation, what the browser asks for, the firm's.
 * @throws 404 if there is none
 */
export async function firmOfPortal(
	event: Pick<RequestEvent, 'locals' | 'cookies' | 'request'> & {
		params: { firm: string; /** of an invitation */ token?: string; /** by which a letter is signed */ link?: string };
	}
): Promise<{ context: WebContext; firm: Firm; locale: string }> {
	const opened = await webContext();
	const { signedIn } = event.locals;
	const remembered = readVisitCookie(event.cookies);
	const seen = async () => {
		if (signedIn?.kind === 'contact' && signedIn.firmSlug === event.params.firm) {
			const { read } = await portalRequest(event);
			return { firm: await read((tx, own) => withBrandOf(tx, own, { contactId: signedIn.personId })), invitee: null };
		}
		const known = await findShortName(opened.db, event.params.firm);
		if (!known) error(404, 'There is nothing here.');
		return opened.db.inFirm(known.firmId, async (tx) => {
			const { token, link } = event.params;
			const invitee = token ? await inviteeOf(tx, token) : link ? await readerOfLink(tx, link) : null;
			return { firm: await withBrandOf(tx, await loadFirm(tx), { clientId: invitee?.clientId, brandId: remembered.brand }), invitee };
		});
	};
	const { firm, invitee } = await seen();
	const locale =
		signedIn?.locale ??
		remembered.language ??
		invitee?.locale ??
		languageOfBrowser(event.request.headers.get('accept-language')) ??
		firm.clientLanguage;
	return { context: opened, firm, locale };
}

/** The same for a contact's portal: every statement sees only their own clients. */
export async function portalRequest(
	event: Pick<RequestEvent, 'locals'>
): Promise<DeskRequest & { contactId: string; locale: string; lookedAtBy: string | null }> {
	const { signedIn, actor } = event.locals;
	if (!signedIn || signedIn.kind !== 'contact') error(401, say(event.locals.language, 'wrong.signedOut'));
	const opened = await webContext();
	// whoever only looks changes nothing, whatever a page tries
	const as = signedIn.lookerId ? { contactId: signedIn.personId, staffId: signedIn.lookerId } : signedIn.personId;
	return {
		context: opened,
		firmId: signedIn.firmId,
		actor,
		contactId: signedIn.personId,
		locale: signedIn.locale,
		lookedAtBy: signedIn.lookedAtBy,
		inFirm: (work) => opened.db.inFirm(signedIn.firmId, async (tx) => work(tx, await loadFirm(tx)), as, signedIn.lookerId ? 'read only' : undefined),
		read: readingOf(event.locals, 'portal', () => sharedReading(readOnly(opened.db, signedIn.firmId, as), loadFirm))
	};
}
