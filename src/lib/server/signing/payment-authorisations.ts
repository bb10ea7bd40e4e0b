import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { guardCell } from '$lib/core/tables/formula-guard';
import { writeCsv } from '$lib/core/tables/write-csv';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import { lastOf } from '$lib/core/signing/bank-accounts';
import { isSecret, type PlaceField } from '$lib/core/signing/places';
import { say } from '$lib/words/words';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { loadFirm } from '../firms/firm';
import { eventAbout, lockItem, type LockedItem } from '../items/change-item';
import { requirePassword } from '../people/change-password';
import type { SignInPlace } from '../people/sign-in';
import type { Tx } from '../platform/db/database';
import { decrypt, encrypt } from '../platform/tokens';

const accountSchema = z.object({ holder: z.string(), routing: z.string(), account: z.string() });
/** An account as its owner named it; empty where something was not asked. */
export type NamedAccount = z.output<typeof accountSchema>;

/**
 * Keeps the account that somebody named among what they filled in, encrypted.
 * @returns what they filled in as it may stand on the pages: of the numbers the last characters
 */
export async function keepAccount(
	tx: Tx,
	actor: Actor,
	of: { letterId: string; item: LockedItem },
	fields: readonly PlaceField[],
	values: Readonly<Record<string, string>>,
	locale: string,
	secretKey: string
): Promise<Record<string, string>> {
	const given = (kind: PlaceField['kind']) => fields.flatMap((field) => (field.kind === kind && values[field.label]) || [])[0] ?? '';
	const account: NamedAccount = { holder: given('holder') || actor.name, routing: given('routing'), account: given('account') };
	if (account.account !== '' || account.routing !== '') {
		await tx.rows(
			'insert into payment_authorisation (id, firm_id, client_id, letter_id, contact_id, given_at, encrypted) values ($1, $2, $3, $4, $5, $6, $7)',
			[randomUUID(), tx.firmId, of.item.client_id, of.letterId, actor.id, actor.now, encrypt(Buffer.from(JSON.stringify(account)), secretKey)]
		);
		await recordEvent(tx, actor, { verb: 'payment_authorised', ...eventAbout(of.item), details: { title: of.item.title } });
	}
	const hidden = new Set(fields.filter(isSecret).map(({ label }) => label));
	return Object.fromEntries(
		Object.entries(values).map(([label, value]) => [label, hidden.has(label) ? say(locale, 'letter.payment.ending', { end: lastOf(value) }) : value])
	);
}

/** An account that was named in a letter, without its numbers. */
export interface PaymentAuthorisation {
	id: string;
	clientId: string;
	clientName: string;
	itemId: string;
	title: string;
	by: string;
	/** instant */ givenAt: string;
	/** instant; null while it is in no file yet */ handedOnAt: string | null;
	/** all have signed the letter: before that nothing is authorised */ signed: boolean;
}

/** Whoever may only see a client does not see its accounts either. */
const WORKED = 'p.client_id <> all (not_worked_clients())';

const AUTHORISATIONS = `select p.id, p.client_id "clientId", c.name "clientName", l.item_id "itemId", i.title, o.name "by", p.given_at "givenAt",
		p.handed_on_at "handedOnAt", l.state in ('complete', 'sealed') signed
	from payment_authorisation p join letter l on l.id = p.letter_id join item i on i.id = l.item_id
		join client c on c.id = p.client_id join contact o on o.id = p.contact_id`;

/** Every account of the clients that somebody works for, the newest first; never its numbers. */
export async function readAuthorisations(tx: Tx, actor: Actor): Promise<PaymentAuthorisation[]> {
	requireStaff(actor, 'hand_on_accounts');
	return tx.rows<PaymentAuthorisation>(`${AUTHORISATIONS} where p.firm_id = $1 and ${WORKED} order by p.given_at desc, p.id`, [tx.firmId]);
}

/** The same for the letter that an item asks somebody to sign. */
export async function readAuthorisationsOf(tx: Tx, actor: Actor, itemId: string): Promise<PaymentAuthorisation[]> {
	requireStaff(actor, 'look');
	return tx.rows<PaymentAuthorisation>(
		`${AUTHORISATIONS} where p.letter_id = (select letter_id from letter_signer where item_id = $1) order by p.given_at, p.id`,
		[itemId]
	);
}

async function lockAuthorisation(tx: Tx, itemId: string, id: string): Promise<{ item: LockedItem; encrypted: Buffer }> {
	const item = await lockItem(tx, itemId);
	const row = await tx.first<{ encrypted: Buffer }>(
		`select p.encrypted from payment_authorisation p where p.id = $2 and p.letter_id = (select letter_id from letter_signer where item_id = $1) and ${WORKED} for update`,
		[itemId, id]
	);
	if (!row) throw new DomainError('link_unusable', 'This account is not kept any more. Ask the client again if it is still needed.');
	return { item, encrypted: row.encrypted };
}

/** The account itself, for one look; every look is in the history. @throws DomainError link_unusable if it was removed */
export async function showAccount(tx: Tx, actor: Actor, secretKey: string, input: { itemId: string; id: string }): Promise<NamedAccount> {
	requireStaff(actor, 'hand_on_accounts');
	const { item, encrypted } = await lockAuthorisation(tx, input.itemId, input.id);
	await recordEvent(tx, actor, { verb: 'payment_shown', ...eventAbout(item), details: { title: item.title } });
	return accountSchema.parse(JSON.parse(decrypt(encrypted, secretKey).toString()));
}

/** Removes an account for good; the letter stays as it was signed. @throws DomainError link_unusable if it was removed before */
export async function removeAccount(tx: Tx, actor: Actor, input: { itemId: string; id: string }): Promise<void> {
	requireStaff(actor, 'hand_on_accounts');
	const { item } = await lockAuthorisation(tx, input.itemId, input.id);
	await tx.rows('delete from payment_authorisation where id = $1', [input.id]);
	await recordEvent(tx, actor, { verb: 'payment_removed', ...eventAbout(item), details: { title: item.title } });
}

/**
 * What whoever collects the fees needs, as CSV (RFC 4180, UTF-8 with its mark): of letters that all have signed.
 * @param which only what is in no file yet, or everything
 * @throws DomainError invalid if there is nothing
 */
export async function handOnAccounts(
	tx: Tx,
	actor: Actor,
	secretKey: string,
	which: 'new' | 'all'
): Promise<{ name: string; csv: string; count: number }> {
	requireStaff(actor, 'hand_on_accounts');
	const rows = await tx.rows<PaymentAuthorisation & { encrypted: Buffer; email: string | null }>(
		`select a.*, p.encrypted, o.email::text from (${AUTHORISATIONS} where p.firm_id = $1 and ${WORKED}) a join payment_authorisation p on p.id = a.id join contact o on o.id = p.contact_id
		where a.signed and ($2 or a."handedOnAt" is null) order by lower(a."clientName"), a."givenAt", a.id for update of p`,
		[tx.firmId, which === 'all']
	);
	if (rows.length === 0)
		throw new DomainError(
			'invalid',
			which === 'new' ? 'There is nothing new: every account is in a file already.' : 'No client has named an account yet.'
		);
	await tx.rows('update payment_authorisation set handed_on_at = $2 where id = any ($1) and handed_on_at is null', [
		rows.map(({ id }) => id),
		actor.now
	]);
	await recordEvent(tx, actor, { verb: 'payments_handed_on', details: { count: rows.length } });
	const firm = await loadFirm(tx);
	const cells = rows.map((row) => {
		const account = accountSchema.parse(JSON.parse(decrypt(row.encrypted, secretKey).toString()));
		return [
			row.clientName,
			account.holder,
			account.routing,
			account.account,
			row.by,
			row.email ?? '',
			localDate(row.givenAt, firm.calendar),
			row.title
		];
	});
	const header = ['Client', 'Account holder', 'Bank number', 'Account', 'Authorised by', 'E-mail', 'Authorised on', 'Letter'];
	return {
		name: `Payment authorisations ${localDate(actor.now, firm.calendar)}.csv`,
		csv: writeCsv([header, ...cells.map((row) => row.map(guardCell))]),
		count: rows.length
	};
}

/**
 * The same for somebody who says once more that it is them: all accounts at once are worth as much as the sign-in.
 * @throws DomainError invalid if it is not their password, or there is nothing
 */
export async function downloadAccounts(
	place: SignInPlace,
	firmId: string,
	actor: Actor,
	secretKey: string,
	input: { which: 'new' | 'all'; password: string }
): Promise<{ name: string; csv: string }> {
	requireStaff(actor, 'hand_on_accounts');
	await place.db.inFirm(firmId, (tx) => requirePassword(place, tx, actor, { kind: 'staff', id: actor.id }, input.password));
	const { name, csv } = await place.db.inFirm(firmId, (tx) => handOnAccounts(tx, actor, secretKey, input.which));
	return { name, csv };
}
