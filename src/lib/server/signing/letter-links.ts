import { randomUUID } from 'node:crypto';
import { addToInstant, compareInstants } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
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
import type { RateLimits } from '../platform/rate-limits';
import { hashToken, newToken } from '../platform/tokens';

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
	/** why it does not open any more; null if it does */
	over: 'declined' | 'withdrawn' | 'lapsed' | 'kept' | null;
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

interface SignerByLink {
	id: string;
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

interface Visit {
	id: string;
	begunAt: string;
	sentTo: string | null;
	codeHash: Buffer | null;
	tries: number;
	letInAt: string | null;
}

/** Whose link it is. @throws DomainError not_found for one that leads nowhere, or not any more */
async function findSigner(tx: Tx, link: string, lock = false): Promise<SignerByLink> {
	const row = await tx.first<SignerByLink>(
		`select s.id, s.signs_by way, s.outside, s.state, c.id "contactId", c.name, c.email::text email, case when c.text_problem is null then c.phone end phone, c.locale,
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
function overWhy(signer: SignerByLink, now: string): LetterDoor['over'] {
	const { letterState, sealedAt } = signer;
	if (letterState === 'declined' || letterState === 'withdrawn' || letterState === 'lapsed') return letterState;
	if (signer.state === 'stopped') return 'withdrawn';
	return sealedAt && compareInstants(addToInstant(sealedAt, { hours: SEALED_BY_LINK_DAYS * 24 }), now) <= 0 ? 'kept' : null;
}

async function findVisit(tx: Tx, signerId: string, token: string | undefined, lock = false): Promise<Visit | null> {
	if (!token) return null;
	return tx.first<Visit>(
		`select id, begun_at "begunAt", sent_to "sentTo", code_hash "codeHash", tries, let_in_at "letInAt" from letter_visit
		where token_hash = $1 and signer_id = $2 ${lock ? 'for update' : ''}`,
		[hashToken(token.slice(0, 100)), signerId]
	);
}

const isIn = (visit: Visit | null, now: string): boolean =>
	visit?.letInAt != null && compareInstants(addToInstant(visit.letInAt, { hours: LETTER_VISIT_HOURS }), now) > 0;

const codeWaits = (visit: Visit | null, now: string): visit is Visit =>
	visit !== null &&
	visit.letInAt === null &&
	visit.sentTo !== null &&
	visit.tries < LETTER_CODE_TRIES &&
	compareInstants(addToInstant(visit.begunAt, { minutes: LETTER_CODE_MINUTES }), now) > 0;

const addressOf = (signer: SignerByLink): string | null =>
	signer.way === 'link_text' ? signer.phone : signer.way === 'link_mail' ? signer.email : null;

const aboutLetter = (signer: SignerByLink) => ({
	clientId: signer.clientId,
	contactId: signer.contactId,
	requestId: signer.requestId,
	itemId: signer.itemId
});

const asSigner = (from: Actor, signer: SignerByLink): ContactActor => ({
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
		signed: signer.state === 'signed',
		over: overWhy(signer, now)
	};
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
		const { token, hash } = newToken();
		const id = randomUUID();
		const withCode = asksCode(signer.way);
		// of codes that were sent, the last one counts
		await tx.rows('delete from letter_visit where signer_id = $1 and (let_in_at is null or let_in_at < $2)', [
			signer.id,
			addToInstant(from.now, { hours: -LETTER_VISIT_HOURS })
		]);
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
 * @returns 'in' if it is right, 'wrong', or 'over' if another one has to be sent
 * @throws DomainError not_found, too_many
 */
export async function giveLetterCode(
	place: { db: Database; limits: RateLimits },
	firmId: string,
	from: Actor,
	link: string,
	token: string | undefined,
	code: string
): Promise<'in' | 'wrong' | 'over'> {
	const known = await place.db.inFirm(firmId, (tx) => findSigner(tx, link));
	await place.limits.codeTry(`letter ${known.id}`, from.ip);
	return place.db.inFirm(firmId, async (tx) => {
		const signer = await findSigner(tx, link);
		const visit = await findVisit(tx, signer.id, token, true);
		if (isIn(visit, from.now)) return 'in';
		if (!codeWaits(visit, from.now)) return 'over';
		const { id, sentTo, codeHash } = visit;
		if (!codeHash?.equals(hashToken(`${id} ${code.replace(/\D/g, '')}`))) {
			await tx.rows('update letter_visit set tries = tries + 1 where id = $1', [id]);
			await recordEvent(tx, from, { verb: 'letter_code_wrong', ...aboutLetter(signer), details: { title: signer.title } });
			return visit.tries + 1 < LETTER_CODE_TRIES ? 'wrong' : 'over';
		}
		await tx.rows('update letter_visit set let_in_at = $2, code_hash = null where id = $1', [id, from.now]);
		await recordEvent(tx, asSigner(from, signer), {
			verb: 'letter_code_given',
			...aboutLetter(signer),
			details: { title: signer.title, to: sentTo }
		});
		return 'in';
	});
}

/** Ends a visit: this browser is let in no more. */
export async function endLetterVisit(tx: Tx, token: string): Promise<void> {
	await tx.rows('delete from letter_visit where token_hash = $1', [hashToken(token.slice(0, 100))]);
}
