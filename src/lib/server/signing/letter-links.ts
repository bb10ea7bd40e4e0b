import { randomUUID } from 'node:crypto';
import { addToInstant, compareInstants } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import { CHECK_MINUTES, type CheckQuestion } from '$lib/core/signing/identity-check';
import type { LetterState } from '$lib/core/signing/letter-states';
import type { SignerState } from '$lib/core/signing/routing';
import {
	asksCode,
	hinted,
	LETTER_CODE_MINUTES,
	LETTER_CODE_TRIES,
	LETTER_VISIT_HOURS,
	SEALED_BY_LINK_DAYS,
	type SigningWay
} from '$lib/core/signing/ways';
import { saying } from '$lib/words/sayings';
import type { Actor, ContactActor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { planMessage } from '../outbox/plan-message';
import type { Database, Tx } from '../platform/db/database';
import { readCheckTerms } from '../platform/identity-checks/terms';
import type { RateLimits } from '../platform/rate-limits';
import { hashToken, newToken } from '../platform/tokens';

/** Minutes for which a browser in which the code was given may have the questions asked, and answer them. */
const CHECK_STAYS_MINUTES = 4 * CHECK_MINUTES;

/** What anybody sees who holds the link of somebody who signs, before they are let in: not a word of the letter. */
export interface LetterDoor {
	title: string;
	/** whose link it is */
	name: string;
	way: SigningWay;
	/** where a code goes, as far as it is shown; null where none is asked for */
	codeTo: string | null;
	/** a code was sent, and this browser may give it */
	codeWaits: boolean;
	/** they have signed it */
	signed: boolean;
	/** of whoever has to show who they are; null where nobody has to */
	check: LetterDoorCheck | null;
	/** why it does not open any more; null if it does */
	over: 'declined' | 'withdrawn' | 'lapsed' | 'kept' | null;
}

/** How far somebody is who has to show who they are. */
export interface LetterDoorCheck {
	/** what the service that asks calls itself; null where none is set up any more */
	service: string | null;
	/** they cannot go on until the firm lets them try again */
	stopped: boolean;
	/** the code was given in this browser: the questions come next */
	next: boolean;
	/** how often they may still be asked */
	left: number;
	/** the service's questions, once they were asked for in this browser */
	questions: CheckQuestion[] | null;
	/** their number is told to the service too */
	withPhone: boolean;
}

/** Somebody who was let in to the one letter that is theirs to sign. */
export interface LetterVisitor {
	actor: ContactActor;
	itemId: string;
	clientId: string;
	locale: string;
	email: string;
	way: SigningWay;
	/** they are not of the client: nothing of it is theirs to see but the letter */
	outside: boolean;
}

export interface SignerByLink {
	id: string;
	checksLeft: number;
	checkStoppedAt: string | null;
	way: SigningWay;
	outside: boolean;
	state: SignerState;
	contactId: string;
	name: string;
	email: string;
	phone: string | null;
	locale: string;
	itemId: string;
	requestId: string;
	clientId: string;
	title: string;
	letterState: LetterState;
	sealedAt: string | null;
}

export interface Visit {
	id: string;
	codeGivenAt: string | null;
	begunAt: string;
	sentTo: string | null;
	codeHash: Buffer | null;
	tries: number;
	letInAt: string | null;
}

/** Whose link it is. @throws DomainError not_found for one that leads nowhere, or not any more */
export async function findSigner(tx: Tx, link: string, lock = false): Promise<SignerByLink> {
	const row = await tx.first<SignerByLink>(
		`select s.id, s.checks_left "checksLeft", s.check_stopped_at "checkStoppedAt", s.signs_by way, s.outside, s.state, c.id "contactId", c.name, c.email::text email, case when c.text_problem is null then c.phone end phone, c.locale,
			i.id "itemId", i.request_id "requestId", i.client_id "clientId", i.title, l.state "letterState", l.sealed_at "sealedAt"
		from letter_signer s join letter l on l.id = s.letter_id join item i on i.id = s.item_id join contact c on c.id = s.contact_id
			join client cl on cl.id = s.client_id
		where s.link_hash = $1 and s.signs_by <> 'portal' and c.suspended_at is null and c.email is not null ${lock ? 'for update of s' : ''}`,
		[hashToken(link.slice(0, 100))]
	);
	if (!row) throw new DomainError('not_found', saying('wrong.letterLink.unknown'));
	return row;
}

/** Why a link does not lead to the letter any more. */
export function overWhy(signer: SignerByLink, now: string): LetterDoor['over'] {
	const { letterState, sealedAt } = signer;
	if (letterState === 'declined' || letterState === 'withdrawn' || letterState === 'lapsed') return letterState;
	if (signer.state === 'stopped') return 'withdrawn';
	return sealedAt && compareInstants(addToInstant(sealedAt, { hours: SEALED_BY_LINK_DAYS * 24 }), now) <= 0 ? 'kept' : null;
}

export async function findVisit(tx: Tx, signerId: string, token: string | undefined, lock = false): Promise<Visit | null> {
	if (!token) return null;
	return tx.first<Visit>(
		`select id, code_given_at "codeGivenAt", begun_at "begunAt", sent_to "sentTo", code_hash "codeHash", tries, let_in_at "letInAt" from letter_visit
		where token_hash = $1 and signer_id = $2 ${lock ? 'for update' : ''}`,
		[hashToken(token.slice(0, 100)), signerId]
	);
}

export const isIn = (visit: Visit | null, now: string): boolean =>
	visit?.letInAt != null && compareInstants(addToInstant(visit.letInAt, { hours: LETTER_VISIT_HOURS }), now) > 0;

const codeWaits = (visit: Visit | null, now: string): visit is Visit =>
	visit !== null &&
	visit.letInAt === null &&
	visit.codeGivenAt === null &&
	visit.sentTo !== null &&
	visit.tries < LETTER_CODE_TRIES &&
	compareInstants(addToInstant(visit.begunAt, { minutes: LETTER_CODE_MINUTES }), now) > 0;

/** Whether the questions are what comes next in a browser: the code was given in it. */
export const isAtCheck = (signer: SignerByLink, visit: Visit | null, now: string): boolean =>
	signer.way === 'link_check' &&
	signer.state === 'asked' &&
	visit?.codeGivenAt != null &&
	visit.letInAt === null &&
	compareInstants(addToInstant(visit.codeGivenAt, { minutes: CHECK_STAYS_MINUTES }), now) > 0;

const addressOf = (signer: SignerByLink): string | null => (signer.way === 'link_text' ? signer.phone : asksCode(signer.way) ? signer.email : null);

export const aboutLetter = (signer: SignerByLink) => ({
	clientId: signer.clientId,
	contactId: signer.contactId,
	requestId: signer.requestId,
	itemId: signer.itemId
});

export const asSigner = (from: Actor, signer: SignerByLink): ContactActor => ({
	...from,
	kind: 'contact',
	id: signer.contactId,
	name: signer.name,
	role: null
});

/** In which language and brand whoever holds a link reads; null for one that leads nowhere. */
export async function readerOfLink(tx: Tx, link: string): Promise<{ clientId: string; locale: string } | null> {
	return tx.first(
		`select s.client_id "clientId", c.locale from letter_signer s join contact c on c.id = s.contact_id
		where s.link_hash = $1`,
		[hashToken(link.slice(0, 100))]
	);
}

/** What stands at the door of a letter. @throws DomainError not_found */
export async function readLetterDoor(tx: Tx, link: string, token: string | undefined, now: string): Promise<LetterDoor> {
	const signer = await findSigner(tx, link);
	const visit = await findVisit(tx, signer.id, token);
	const to = asksCode(signer.way) ? addressOf(signer) : null;
	return {
		title: signer.title,
		name: signer.name,
		way: signer.way,
		codeTo: to && hinted(to),
		codeWaits: codeWaits(visit, now),
		check: signer.way === 'link_check' && signer.state !== 'signed' ? await readDoorCheck(tx, signer, visit, now) : null,
		signed: signer.state === 'signed',
		over: overWhy(signer, now)
	};
}

async function readDoorCheck(tx: Tx, signer: SignerByLink, visit: Visit | null, now: string): Promise<LetterDoorCheck> {
	const next = isAtCheck(signer, visit, now);
	const asked = next ? await findOpenCheck(tx, visit!.id, now) : null;
	return {
		service: (await readCheckTerms(tx))?.name ?? null,
		stopped: signer.checkStoppedAt !== null,
		next,
		left: signer.checksLeft,
		questions: asked?.questions ?? null,
		withPhone: signer.phone !== null
	};
}

/** The check that waits for answers in a browser, or for its questions; null once it is too late for it. */
export async function findOpenCheck(tx: Tx, visitId: string, now: string): Promise<OpenCheck | null> {
	return tx.first<OpenCheck>(
		`select id, service, service_key "serviceKey", questions from identity_check where visit_id = $1 and outcome is null and begun_at > $2`,
		[visitId, addToInstant(now, { minutes: -CHECK_MINUTES })]
	);
}
export interface OpenCheck {
	id: string;
	service: string;
	serviceKey: string | null;
	questions: CheckQuestion[] | null;
}

/**
 * Who is in, by the link and the token that this browser was given. The letter is open to them, and nothing else of their client.
 * @returns null for a browser that was not let in, or too long ago
 */
export async function findLetterVisitor(
	db: Database,
	firmId: string,
	from: Actor,
	link: string,
	token: string | undefined
): Promise<LetterVisitor | null> {
	if (!token) return null;
	return db.inFirm(firmId, async (tx) => {
		const signer = await findSigner(tx, link);
		if (!isIn(await findVisit(tx, signer.id, token), from.now) || overWhy(signer, from.now) === 'kept') return null;
		const { itemId, clientId, locale, email, way, outside } = signer;
		return { actor: asSigner(from, signer), itemId, clientId, locale, email, way, outside };
	});
}

/** Whether a browser was let in to the letter of a link. */
export async function isLetIn(db: Database, firmId: string, from: Actor, link: string, token: string): Promise<boolean> {
	return db.inFirm(firmId, async (tx) => {
		const signer = await tx.first<{ id: string }>(`select id from letter_signer where link_hash = $1 and signs_by <> 'portal'`, [
			hashToken(link.slice(0, 100))
		]);
		return signer !== null && isIn(await findVisit(tx, signer.id, token), from.now);
	});
}

/**
 * Begins a visit: where no code is asked for they are in, else one goes to their address or phone, and makes those before it worthless.
 * @returns the token for the browser's cookie
 * @throws DomainError not_found, changed_meanwhile where the letter is over, too_many, invalid where no code can reach them
 */
export async function beginLetterVisit(
	place: { db: Database; limits: RateLimits; texts: unknown },
	firmId: string,
	from: Actor,
	link: string
): Promise<string> {
	const known = await place.db.inFirm(firmId, (tx) => findSigner(tx, link));
	const to = addressOf(known);
	if (known.way === 'link_text' && (!to || !place.texts)) throw new DomainError('invalid', saying('wrong.letterLink.noPhone'));
	if (asksCode(known.way)) await place.limits.answerCode(`letter ${known.id}`, from.ip);
	else await place.limits.publicPageOpened(from.ip);
	return place.db.inFirm(firmId, async (tx) => {
		const signer = await findSigner(tx, link, true);
		if (overWhy(signer, from.now)) throw new DomainError('changed_meanwhile', saying('wrong.letterLink.over'));
		if (signer.checkStoppedAt && signer.state !== 'signed') throw new DomainError('changed_meanwhile', saying('wrong.check.stopped'));
		const { token, hash } = newToken();
		const id = randomUUID();
		const withCode = asksCode(signer.way);
		// of codes that were sent, the last one counts; whoever gave theirs and is being asked more is not thrown out by another one
		await tx.rows(
			`delete from letter_visit where signer_id = $1 and case when let_in_at is not null then let_in_at < $2 else coalesce(code_given_at < $3, true) end`,
			[signer.id, addToInstant(from.now, { hours: -LETTER_VISIT_HOURS }), addToInstant(from.now, { minutes: -CHECK_STAYS_MINUTES })]
		);
		await tx.rows('insert into letter_visit (id, firm_id, signer_id, token_hash, begun_at, sent_to, let_in_at) values ($1, $2, $3, $4, $5, $6, $7)', [
			id,
			tx.firmId,
			signer.id,
			hash,
			from.now,
			withCode ? to : null,
			withCode ? null : from.now
		]);
		if (!withCode) {
			await recordEvent(tx, asSigner(from, signer), { verb: 'letter_link_opened', ...aboutLetter(signer), details: { title: signer.title } });
			return token;
		}
		await recordEvent(tx, from, { verb: 'letter_code_asked', ...aboutLetter(signer), details: { title: signer.title, to } });
		await planMessage(tx, from, {
			kind: 'letter_code',
			channel: signer.way === 'link_text' ? 'text' : 'email',
			idempotencyKey: `letter code ${id}`,
			to: { address: to!, contactId: signer.contactId },
			clientId: signer.clientId,
			content: { visitId: id, itemTitle: signer.title }
		});
		return token;
	});
}

/**
 * Takes the code that was sent. A wrong one is counted, and stands in the trail of the letter.
 * @returns 'in' if it is right, 'check' if questions come next, 'wrong', or 'over' if another one has to be sent
 * @throws DomainError not_found, too_many
 */
export async function giveLetterCode(
	place: { db: Database; limits: RateLimits },
	firmId: string,
	from: Actor,
	link: string,
	token: string | undefined,
	code: string
): Promise<'in' | 'check' | 'wrong' | 'over'> {
	const known = await place.db.inFirm(firmId, (tx) => findSigner(tx, link));
	await place.limits.codeTry(`letter ${known.id}`, from.ip);
	return place.db.inFirm(firmId, async (tx) => {
		const signer = await findSigner(tx, link);
		const visit = await findVisit(tx, signer.id, token, true);
		if (isIn(visit, from.now)) return 'in';
		if (isAtCheck(signer, visit, from.now)) return 'check';
		if (!codeWaits(visit, from.now)) return 'over';
		const { id, sentTo, codeHash } = visit;
		if (!codeHash?.equals(hashToken(`${id} ${code.replace(/\D/g, '')}`))) {
			await tx.rows('update letter_visit set tries = tries + 1 where id = $1', [id]);
			await recordEvent(tx, from, { verb: 'letter_code_wrong', ...aboutLetter(signer), details: { title: signer.title } });
			return visit.tries + 1 < LETTER_CODE_TRIES ? 'wrong' : 'over';
		}
		// what they have signed they may read without being asked again
		const checked = signer.way === 'link_check' && signer.state !== 'signed';
		await tx.rows(`update letter_visit set ${checked ? 'code_given_at' : 'let_in_at'} = $2, code_hash = null where id = $1`, [id, from.now]);
		await recordEvent(tx, asSigner(from, signer), {
			verb: 'letter_code_given',
			...aboutLetter(signer),
			details: { title: signer.title, to: sentTo }
		});
		return checked ? 'check' : 'in';
	});
}

/** Ends a visit: this browser is let in no more. */
export async function endLetterVisit(tx: Tx, token: string): Promise<void> {
	await tx.rows('delete from letter_visit where token_hash = $1', [hashToken(token.slice(0, 100))]);
}
