import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { DomainError } from '$lib/core/errors/domain-error';
import { LETTER_OPEN, type LetterState } from '$lib/core/signing/letter-states';
import { fieldsOf, isSecret, keptValues, leftOf, placesSchema, wrongValue, type Place } from '$lib/core/signing/places';
import { letterStateOf, signerStateAfter, type Routed } from '$lib/core/signing/routing';
import { bankNumber } from '$lib/core/signing/bank-accounts';
import { signatureSchema, type KeptSignature, type Signature } from '$lib/core/signing/signature';
import type { SigningWay } from '$lib/core/signing/ways';
import { saying } from '$lib/words/sayings';
import { say } from '$lib/words/words';
import { requireContact, requireReader, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { loadFirm } from '../firms/firm';
import { eventAbout, moveItem, type LockedItem } from '../items/change-item';
import { IS_THEIRS_TO_READ, lockOwnItem, lockOwnItemToRead } from '../items/own-item';
import { holdReminders } from '../items/remarks';
import type { Tx } from '../platform/db/database';
import { missingGlyphs } from '../platform/pdf/fonts';
import { enqueue } from '../platform/queue';
import { keepAccount } from './payment-authorisations';
import { requirePicture } from './signature-picture';

export interface LockedLetter {
	id: string;
	/** of whoever was asked first */
	item_id: string;
	client_id: string;
	state: LetterState;
	sha256: string;
	places: Place[];
}
/** Somebody who signs a letter, as far as they are. */
export interface LetterSignerRow extends Routed {
	id: string;
	position: number;
	copy: boolean;
	contact_id: string | null;
	staff_id: string | null;
	name: string;
	item_id: string | null;
	/** how they come to it */
	signs_by: SigningWay;
	/** they are not of the client */
	outside: boolean;
	shown_whole_at: string | null;
	/** when they sent pages that they signed by hand */
	on_paper_at: string | null;
}

/** Locks the letter that an item asks somebody to sign: nobody else signs, declines or withdraws it meanwhile. @throws DomainError not_found */
export async function lockLetter(tx: Tx, itemId: string): Promise<LockedLetter> {
	return asLocked(
		await tx.first<LockedLetter>(
			`select id, item_id, client_id, state, encode(sha256, 'hex') sha256, places from letter
			where id = (select letter_id from letter_signer where item_id = $1) for update`,
			[itemId]
		)
	);
}

/** The same by the letter's own id. @throws DomainError not_found */
export async function lockLetterById(tx: Tx, letterId: string): Promise<LockedLetter> {
	return asLocked(
		await tx.first<LockedLetter>(`select id, item_id, client_id, state, encode(sha256, 'hex') sha256, places from letter where id = $1 for update`, [
			letterId
		])
	);
}

function asLocked(letter: LockedLetter | null): LockedLetter {
	if (!letter) throw new DomainError('not_found', saying('wrong.letter.unknown'));
	return { ...letter, places: placesSchema.parse(letter.places) };
}

/** Everybody who signs a letter or gets a copy, in the order in which they are asked. */
export function readSigners(tx: Tx, letterId: string): Promise<LetterSignerRow[]> {
	return tx.rows<LetterSignerRow>(
		`select id, key, position, rank, side, copy, contact_id, staff_id, name, item_id, state, signs_by, outside, shown_whole_at, on_paper_at
		from letter_signer where letter_id = $1 order by position`,
		[letterId]
	);
}

/** Those of them who sign. */
export const signing = (signers: readonly LetterSignerRow[]): LetterSignerRow[] => signers.filter(({ copy }) => !copy);

/** Notes that the contact has opened the letter. */
export async function noteLetterOpened(tx: Tx, actor: Actor, itemId: string): Promise<void> {
	const item = await lockOwnItemToRead(tx, actor, itemId);
	const before = await tx.first(`select 1 from event where item_id = $1 and verb = 'letter_opened' and actor_id = $2 limit 1`, [itemId, actor.id]);
	if (!before) await recordEvent(tx, actor, { verb: 'letter_opened', ...eventAbout(item), details: { title: item.title } });
}

/** Whether a letter of a signer is shown to nobody yet who has not shown who they are, by the link of their own; what they have signed is. */
const isAfterCheck = ({ signs_by, state }: Pick<LetterSignerRow, 'signs_by' | 'state'>): boolean => signs_by === 'link_check' && state !== 'signed';

/** The same for what an item asks somebody to sign, as their client's people find it on their page. */
export async function opensAfterCheck(tx: Tx, actor: Actor, itemId: string): Promise<boolean> {
	requireReader(actor);
	const signer = await tx.first<Pick<LetterSignerRow, 'signs_by' | 'state'>>('select signs_by, state from letter_signer where item_id = $1', [
		itemId
	]);
	return signer !== null && isAfterCheck(signer);
}

/** Locks a letter for whoever is to sign it. @throws DomainError not_allowed for everybody else who may read it */
export async function lockOwnLetter(
	tx: Tx,
	actor: Actor,
	itemId: string
): Promise<{ item: LockedItem; letter: LockedLetter; signers: LetterSignerRow[]; own: LetterSignerRow }> {
	const item = await lockOwnItem(tx, actor, itemId);
	if (item.contact_id !== actor.id) throw new DomainError('not_allowed', saying('wrong.letter.notYours'));
	const letter = await lockLetter(tx, item.id);
	const signers = await readSigners(tx, letter.id);
	const own = signers.find((signer) => signer.item_id === item.id);
	if (own?.contact_id !== actor.id) throw new DomainError('not_allowed', saying('wrong.letter.notYours'));
	return { item, letter, signers, own };
}

/**
 * Notes that the whole letter has been shown to whoever is to sign it: without it they cannot sign.
 * @param how the page has seen its end come into sight, or the person says that they have read it, where no scripts run
 */
export async function noteShownWhole(tx: Tx, actor: Actor, itemId: string, how: 'seen' | 'said' = 'seen'): Promise<void> {
	const { item, own } = await lockOwnLetter(tx, actor, itemId);
	if (own.state !== 'asked' || own.shown_whole_at) return;
	await tx.rows('update letter_signer set shown_whole_at = $2 where id = $1', [own.id, actor.now]);
	await recordEvent(tx, actor, {
		verb: how === 'seen' ? 'letter_shown_whole' : 'letter_said_read',
		...eventAbout(item),
		details: { title: item.title }
	});
}

/** What is written into places, by label. */
export const valuesSchema = z.record(z.string().max(80), z.string().max(2000));

/**
 * What a signer wrote into their places, as it is kept.
 * @throws DomainError invalid, naming what is left or wrong by the number of the field
 */
export function requireValues(places: readonly Place[], signer: string, given: Readonly<Record<string, string>>): Record<string, string> {
	const fields = fieldsOf(places, signer);
	const kept = keptValues(fields, given);
	for (const [at, field] of fields.entries()) {
		const wrong = wrongValue(field, kept[field.label] ?? '');
		if (wrong) throw new DomainError('invalid', saying(wrong, { label: field.label }), { [`place.${at}`]: saying(wrong, { label: field.label }) });
		const missing = missingGlyphs(kept[field.label] ?? '', 'sans');
		const words = saying('wrong.letter.glyphs', { characters: missing.slice(0, 8).join(' '), count: missing.length });
		if (missing.length > 0) throw new DomainError('invalid', words, { [`place.${at}`]: words });
		if (isSecret(field) && kept[field.label]) {
			const kind = field.kind === 'routing' ? 'routing' : 'account';
			const number = bankNumber(kind, kept[field.label], field.country);
			const wrongNumber = saying(kind === 'routing' ? 'wrong.bank.routing' : 'wrong.bank.account', { label: field.label });
			if (number === null) throw new DomainError('invalid', wrongNumber, { [`place.${at}`]: wrongNumber });
			kept[field.label] = number;
		}
	}
	const left = leftOf(fields, kept);
	if (left.length > 0)
		throw new DomainError(
			'invalid',
			saying('letter.left', { count: left.length, label: left[0].label }),
			Object.fromEntries(left.map((field) => [`place.${fields.indexOf(field)}`, saying('letter.leftHere')]))
		);
	return kept;
}

/** Writes a signature down, and where the letter stands with it. @returns where it stands */
export async function writeSignature(
	tx: Tx,
	actor: Actor,
	letter: LockedLetter,
	signers: readonly LetterSignerRow[],
	own: LetterSignerRow,
	made: {
		signature: KeptSignature;
		email: string;
		consent: string;
		values: Record<string, string>;
		by?: SigningWay;
		/** whose it is, where somebody of the firm takes what they signed by hand, and where its pages are */
		ofContact?: string;
		scan?: { key: string; sha256: Buffer };
	}
): Promise<LetterState> {
	await tx.rows(
		`insert into signature (id, firm_id, client_id, letter_id, rank, contact_id, staff_id, name, email, mark, consent, signed_at, ip, user_agent, filled, signed_by_way, scan_key, scan_sha256)
		values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17, $18)`,
		[
			randomUUID(),
			tx.firmId,
			letter.client_id,
			letter.id,
			own.position,
			made.ofContact ?? (actor.kind === 'contact' ? actor.id : null),
			actor.kind === 'staff' && !made.ofContact ? actor.id : null,
			made.signature.name,
			made.email,
			JSON.stringify(made.signature),
			made.consent,
			actor.now,
			actor.ip,
			actor.userAgent.slice(0, 300),
			JSON.stringify(made.values),
			made.by ?? 'portal',
			made.scan?.key ?? null,
			made.scan?.sha256 ?? null
		]
	);
	const state = letterStateOf(signing(signers).map((signer) => (signer.id === own.id ? { ...signer, state: 'signed' as const } : signer)));
	await tx.rows(`update letter_signer set state = 'signed' where id = $1`, [own.id]);
	await tx.rows('update letter set state = $2 where id = $1', [letter.id, state]);
	// pages that they had sent wait for nobody any more
	if (own.on_paper_at && own.item_id) await holdReminders(tx, actor, own.item_id);
	await enqueue(tx, 'letter_goes_on', { firmId: tx.firmId, letterId: letter.id });
	return state;
}

/** @throws DomainError changed_meanwhile if a signer cannot sign or decline where they and the letter stand */
export function requireOpen(letter: LockedLetter, signer: LetterSignerRow, move: 'sign' | 'decline'): void {
	if (!signerStateAfter(signer.state, move) || !LETTER_OPEN.includes(letter.state))
		throw new DomainError('changed_meanwhile', saying('wrong.letter.moved', { state: signer.state === 'signed' ? 'signed' : letter.state }));
}

/**
 * Signs a letter as the client's contact.
 * @param secretKey with which an account is encrypted that they name
 * @throws DomainError invalid if the letter was not shown whole, consent is missing or something is not filled in; changed_meanwhile
 */
export async function signLetter(
	tx: Tx,
	actor: Actor,
	input: {
		itemId: string;
		signature: Signature;
		consent: boolean;
		values?: Readonly<Record<string, string>>;
		/** how they came to it */ by?: SigningWay;
	},
	secretKey: string
): Promise<void> {
	requireContact(actor);
	const { item, letter, signers, own } = await lockOwnLetter(tx, actor, input.itemId);
	requireOpen(letter, own, 'sign');
	// signed in to their page they have not shown who they are
	if (isAfterCheck(own) && input.by !== 'link_check') throw new DomainError('not_allowed', saying('wrong.check.byLink'));
	const person = await tx.first<{ email: string; locale: string }>('select email::text, locale from contact where id = $1', [actor.id]);
	requireDrawable(input.signature.name);
	requirePicture(input.signature);
	if (!own.shown_whole_at) throw new DomainError('invalid', saying('letter.notShown'));
	const given = requireValues(letter.places, own.key, input.values ?? {});
	if (!input.consent) throw new DomainError('invalid', saying('letter.consentMissing'), { consent: saying('letter.consentMissing') });
	const values = await keepAccount(tx, actor, { letterId: letter.id, item }, fieldsOf(letter.places, own.key), given, person!.locale, secretKey);
	await writeSignature(tx, actor, letter, signers, own, {
		signature: input.signature,
		email: person!.email,
		consent: say(person!.locale, 'letter.consent'),
		values,
		by: input.by
	});
	await recordEvent(tx, actor, {
		verb: 'letter_signed',
		...eventAbout(item),
		details: { title: item.title, method: input.signature.method, as: input.signature.name }
	});
	await moveItem(tx, actor, await loadFirm(tx), item, 'hand_in');
}

/** Declines to sign, with the reason; nobody else needs to sign then. @throws DomainError not_allowed if the letter is somebody else's to sign */
export async function declineLetter(tx: Tx, actor: Actor, input: { itemId: string; reason: string }): Promise<void> {
	const { item, letter, own } = await lockOwnLetter(tx, actor, input.itemId);
	requireOpen(letter, own, 'decline');
	await tx.rows(`update letter_signer set state = 'declined' where id = $1`, [own.id]);
	await tx.rows(`update letter set state = 'declined' where id = $1`, [letter.id]);
	await moveItem(tx, actor, await loadFirm(tx), item, 'decline', { reason: input.reason });
	await enqueue(tx, 'letter_goes_on', { firmId: tx.firmId, letterId: letter.id });
}

/** The signature that somebody drew, or took a picture of, last: they may use it again. @returns null for somebody of the firm */
export async function readLastMark(tx: Tx, actor: Actor): Promise<Signature | null> {
	requireReader(actor);
	const row = await tx.first<{ mark: unknown }>(
		`select mark from signature where contact_id = $1 and mark ->> 'method' in ('drawn', 'picture') order by signed_at desc limit 1`,
		[actor.kind === 'contact' ? actor.id : null]
	);
	return row && signatureSchema.parse(row.mark);
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
 * @param looking its pages are shown where it is signed, which was noted when that was opened
 * @param by how somebody of the client comes to it
 * @throws DomainError not_found, not_allowed where they have to show first who they are
 */
export async function openLetterPdf(
	tx: Tx,
	actor: Actor,
	itemId: string,
	looking = false,
	by: SigningWay = 'portal'
): Promise<{ storageKey: string; name: string }> {
	requireReader(actor);
	const row = await tx.first<{
		key: string;
		title: string;
		client_id: string;
		request_id: string;
		sealed: boolean;
		signs_by: SigningWay;
		state: LetterSignerRow['state'];
	}>(
		`select coalesce(l.sealed_key, l.storage_key) as key, l.sealed_key is not null sealed, s.signs_by, s.state, i.title, i.client_id, i.request_id
		from letter_signer s join letter l on l.id = s.letter_id join item i on i.id = s.item_id
		where s.item_id = $1 and ($2::uuid is null or ${IS_THEIRS_TO_READ('$2')})`,
		[itemId, actor.kind === 'contact' ? actor.id : null]
	);
	if (!row) throw new DomainError('not_found', saying('wrong.letter.unknown'));
	if (actor.kind === 'contact' && isAfterCheck(row) && by !== 'link_check') throw new DomainError('not_allowed', saying('wrong.check.byLink'));
	const noted =
		looking &&
		(actor.kind === 'staff' ||
			(await tx.first(`select 1 from event where item_id = $1 and verb = 'letter_opened' and actor_id = $2 limit 1`, [itemId, actor.id])));
	if (!noted)
		await recordEvent(tx, actor, {
			verb: 'letter_downloaded',
			clientId: row.client_id,
			requestId: row.request_id,
			itemId,
			details: { title: row.title, sealed: row.sealed }
		});
	return { storageKey: row.key, name: `${row.title}${row.sealed ? ' (signed)' : ''}.pdf` };
}
