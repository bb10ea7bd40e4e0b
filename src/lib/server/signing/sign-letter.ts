import { randomUUID } from 'node:crypto';
import { DomainError } from '$lib/core/errors/domain-error';
import { letterStateAfter, type LetterMove, type LetterState } from '$lib/core/signing/letter-states';
import type { Signature } from '$lib/core/signing/signature';
import { saying } from '$lib/words/sayings';
import { say } from '$lib/words/words';
import { requireContact, requireReader, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { loadFirm } from '../firms/firm';
import { eventAbout, moveItem, type LockedItem } from '../items/change-item';
import { lockOwnItem, lockOwnItemToRead } from '../items/own-item';
import type { Tx } from '../platform/db/database';
import { missingGlyphs } from '../platform/pdf/fonts';

interface LetterRow {
	id: string;
	item_id: string;
	state: LetterState;
	storage_key: string;
	sha256: Buffer;
	signature_page: number;
	signature_top: number;
	shown_whole_at: string | null;
	/** to whom the whole of it was shown: nobody else signs by that */
	shown_to_contact_id: string | null;
	sealed_key: string | null;
}

export async function lockLetter(tx: Tx, itemId: string): Promise<LetterRow> {
	const letter = await tx.first<LetterRow>('select * from letter where item_id = $1 for update', [itemId]);
	if (!letter) throw new DomainError('not_found', saying('wrong.letter.unknown'));
	return letter;
}

export function nextState(letter: LetterRow, move: LetterMove): LetterState {
	const next = letterStateAfter(letter.state, move);
	if (!next) throw new DomainError('changed_meanwhile', saying('wrong.letter.moved', { state: letter.state }));
	return next;
}

/** Notes that the contact has opened the letter. */
export async function noteLetterOpened(tx: Tx, actor: Actor, itemId: string): Promise<void> {
	const item = await lockOwnItemToRead(tx, actor, itemId);
	const before = await tx.first(`select 1 from event where item_id = $1 and verb = 'letter_opened' and actor_id = $2 limit 1`, [itemId, actor.id]);
	if (!before) await recordEvent(tx, actor, { verb: 'letter_opened', ...eventAbout(item), details: { title: item.title } });
}

/** Locks a letter for whoever is to sign it. @throws DomainError not_allowed for everybody else who may read it */
async function lockOwnLetter(tx: Tx, actor: Actor, itemId: string): Promise<{ item: LockedItem; letter: LetterRow }> {
	const item = await lockOwnItem(tx, actor, itemId);
	if (item.contact_id !== actor.id) throw new DomainError('not_allowed', saying('wrong.letter.notYours'));
	return { item, letter: await lockLetter(tx, item.id) };
}

/**
 * Notes that the whole letter has been shown to whoever is to sign it: without it nobody can sign.
 * @param how the page has seen its end come into sight, or the person says that they have read it, where no scripts run
 */
export async function noteShownWhole(tx: Tx, actor: Actor, itemId: string, how: 'seen' | 'said' = 'seen'): Promise<void> {
	const { item, letter } = await lockOwnLetter(tx, actor, itemId);
	if (letter.state !== 'sent' || letter.shown_to_contact_id === actor.id) return;
	await tx.rows('update letter set shown_whole_at = $2, shown_to_contact_id = $3 where id = $1', [letter.id, actor.now, actor.id]);
	await recordEvent(tx, actor, {
		verb: how === 'seen' ? 'letter_shown_whole' : 'letter_said_read',
		...eventAbout(item),
		details: { title: item.title }
	});
}

/**
 * Signs a letter as the client's contact.
 * @throws DomainError invalid if the letter was not shown whole or consent is missing; changed_meanwhile
 */
export async function signLetter(tx: Tx, actor: Actor, input: { itemId: string; signature: Signature; consent: boolean }): Promise<void> {
	requireContact(actor);
	const { item, letter } = await lockOwnLetter(tx, actor, input.itemId);
	const next = nextState(letter, 'sign');
	const person = await tx.first<{ email: string; locale: string }>('select email::text, locale from contact where id = $1', [actor.id]);
	const locale = person!.locale;
	requireDrawable(input.signature.name);
	if (letter.shown_to_contact_id !== actor.id) throw new DomainError('invalid', saying('letter.notShown'));
	if (!input.consent) throw new DomainError('invalid', saying('letter.consentMissing'), { consent: saying('letter.consentMissing') });
	await tx.rows(
		`insert into signature (id, firm_id, client_id, letter_id, rank, contact_id, name, email, mark, consent, signed_at, ip, user_agent)
		values ($1, $2, $3, $4, 1, $5, $6, $7, $8, $9, $10, $11, $12)`,
		[
			randomUUID(),
			tx.firmId,
			item.client_id,
			letter.id,
			actor.id,
			input.signature.name,
			person!.email,
			JSON.stringify(input.signature),
			say(locale, 'letter.consent'),
			actor.now,
			actor.ip,
			actor.userAgent.slice(0, 300)
		]
	);
	await tx.rows('update letter set state = $2 where id = $1', [letter.id, next]);
	await recordEvent(tx, actor, { verb: 'letter_signed', ...eventAbout(item), details: { title: item.title, method: input.signature.method } });
	await moveItem(tx, actor, await loadFirm(tx), item, 'hand_in');
}

/** Declines to sign, with the reason. @throws DomainError not_allowed if the letter is somebody else's to sign */
export async function declineLetter(tx: Tx, actor: Actor, input: { itemId: string; reason: string }): Promise<void> {
	const { item, letter } = await lockOwnLetter(tx, actor, input.itemId);
	await tx.rows('update letter set state = $2 where id = $1', [letter.id, nextState(letter, 'decline')]);
	await moveItem(tx, actor, await loadFirm(tx), item, 'decline', { reason: input.reason });
}

/**
 * Refuses a name that would come out with holes in the sealed file: a missing glyph is silent in every PDF library. Scripts that are
 * written from right to left, and those of East Asia, are not among the shipped fonts.
 * @throws DomainError invalid, naming the characters
 */
export function requireDrawable(name: string): void {
	const missing = [...new Set([...missingGlyphs(name, 'serifItalic'), ...missingGlyphs(name, 'sans')])];
	if (missing.length === 0) return;
	const words = saying('wrong.letter.glyphs', { characters: missing.slice(0, 8).join(' '), count: missing.length });
	throw new DomainError('invalid', words, { name: words });
}

/**
 * The letter's PDF for somebody who may see it: the sealed one if there is one.
 * @throws DomainError not_found
 */
export async function openLetterPdf(tx: Tx, actor: Actor, itemId: string): Promise<{ storageKey: string; name: string }> {
	requireReader(actor);
	const row = await tx.first<{ key: string; title: string; client_id: string; request_id: string; sealed: boolean }>(
		`select coalesce(l.sealed_key, l.storage_key) as key, l.sealed_key is not null sealed, i.title, i.client_id, i.request_id from letter l join item i on i.id = l.item_id where l.item_id = $1`,
		[itemId]
	);
	if (!row) throw new DomainError('not_found', saying('wrong.letter.unknown'));
	await recordEvent(tx, actor, {
		verb: 'letter_downloaded',
		clientId: row.client_id,
		requestId: row.request_id,
		itemId,
		details: { title: row.title, sealed: row.sealed }
	});
	return { storageKey: row.key, name: `${row.title}${row.sealed ? ' (signed)' : ''}.pdf` };
}
