import { z } from 'zod';
import { DomainError } from '$lib/core/errors/domain-error';
import { notAskedWords, type NotAsked } from '$lib/core/requests/who-may-be-asked';
import { LETTER_OPEN } from '$lib/core/signing/letter-states';
import { signerStateAfter } from '$lib/core/signing/routing';
import { SIGNING_WAYS } from '$lib/core/signing/ways';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { eventAbout, lockItem, type LockedItem } from '../items/change-item';
import { holdReminders } from '../items/remarks';
import { announceAnew } from '../outbox/announce-later';
import type { Tx } from '../platform/db/database';
import { readCheckService } from '../platform/identity-checks/terms';
import { enqueue } from '../platform/queue';
import { lockLetter, readSigners, type LetterSignerRow, type LockedLetter } from '../signing/sign-letter';

export const replaceSignerSchema = z.object({ signer: z.string().min(1).max(20), contactId: z.uuid('Choose who signs instead.') });

/** Locks a letter with one of the client's side who signs it. @throws DomainError not_found */
export async function lockSigner(
	tx: Tx,
	input: { itemId: string; signer: string }
): Promise<{ letter: LockedLetter; first: LockedItem; signers: LetterSignerRow[]; own: LetterSignerRow }> {
	const letter = await lockLetter(tx, input.itemId);
	const first = await lockItem(tx, letter.item_id);
	const signers = await readSigners(tx, letter.id);
	const own = signers.find(({ key, side }) => key === input.signer && side === 'client');
	if (!own) throw new DomainError('not_found', 'This person is not among those who sign.');
	return { letter, first, signers, own };
}

/**
 * Puts somebody else of the client in the place of one who has not signed; in the place of somebody outside, also another one outside. What
 * others have signed stays; whoever is put in is asked when it is their turn, and who was asked before is not any more.
 * @throws DomainError not_found, invalid if they sign already or cannot be asked, changed_meanwhile if the one has signed or the letter is over
 */
export async function replaceSigner(tx: Tx, actor: Actor, input: { itemId: string } & z.output<typeof replaceSignerSchema>): Promise<void> {
	requireStaff(actor, 'send_request');
	const { letter, first, signers, own } = await lockSigner(tx, input);
	const state = signerStateAfter(own.state, 'replace');
	if (!LETTER_OPEN.includes(letter.state) || !state)
		throw new DomainError('changed_meanwhile', `${own.name} has signed by now, or the letter is over. Nothing was changed.`);
	const to = await tx.first<{ id: string; name: string; email: string | null; phone: string | null; notAsked: NotAsked | null; outside: boolean }>(
		`select c.id, c.name, c.email::text, case when c.text_problem is null then c.phone end phone, c.not_asked as "notAsked",
			not exists (select from client_contact where client_id = $1 and contact_id = $2) outside
		from contact c where c.id = $2 and c.id in (select contact_id from client_contact where client_id = $1
			union all select contact_id from outside_signer where client_id = $1 and $3)`,
		[letter.client_id, input.contactId, own.outside]
	);
	if (!to) throw new DomainError('not_found', 'This person does not belong to the client.');
	if (signers.some(({ contact_id }) => contact_id === to.id)) throw new DomainError('invalid', `${to.name} is among those who sign already.`);
	if (to.notAsked) throw new DomainError('invalid', `${notAskedWords(to.notAsked, to)}.`);
	if (own.signs_by === 'link_text' && !to.phone)
		throw new DomainError('invalid', `${to.name} has no phone number that the code for this letter could go to. Add it to the client first.`);
	await tx.rows(
		`update letter_signer set contact_id = $2, name = $3, state = $4, outside = $5, asked_at = null, shown_whole_at = null, told_of_lapse_on = null where id = $1`,
		[own.id, to.id, to.name, state, to.outside]
	);
	// what the one was asked is asked of the other, from its beginning; what was typed stays with who typed it
	await tx.rows(
		`update item set contact_id = $2, own = true, state = 'asked', state_at = $3, version = version + 1, typed = '{}', asked_time_until = null where id = $1`,
		[own.item_id, to.id, actor.now]
	);
	await recordEvent(tx, actor, {
		verb: 'letter_signer_replaced',
		...eventAbout(first),
		details: { title: first.title, from: own.name, to: to.name }
	});
	if (own.item_id) await holdReminders(tx, actor, own.item_id);
	await enqueue(tx, 'letter_goes_on', { firmId: tx.firmId, letterId: letter.id });
}

export const changeWaySchema = z.object({ signer: z.string().min(1).max(20), by: z.enum(SIGNING_WAYS, 'Choose how they come to it.') });

/**
 * Changes how somebody comes to a letter that is out and that they have not signed. What they had opened it by opens it no more; who was
 * asked already is told anew.
 * @throws DomainError not_found, invalid if they cannot come that way, changed_meanwhile if they have signed or the letter is over
 */
export async function changeSigningWay(tx: Tx, actor: Actor, input: { itemId: string } & z.output<typeof changeWaySchema>): Promise<void> {
	requireStaff(actor, 'send_request');
	const { letter, first, own } = await lockSigner(tx, input);
	if (own.signs_by === input.by) return;
	if (!LETTER_OPEN.includes(letter.state) || own.copy || (own.state !== 'waits' && own.state !== 'asked'))
		throw new DomainError('changed_meanwhile', `${own.name} has signed by now, or the letter is over. Nothing was changed.`);
	const person = await tx.first<{ phone: string | null; has_access: boolean }>(
		`select case when text_problem is null then phone end phone, password_hash is not null has_access from contact where id = $1`,
		[own.contact_id]
	);
	if (input.by === 'link_text' && !person?.phone)
		throw new DomainError('invalid', `${own.name} has no phone number that a code could go to. Add it first, or choose another way.`);
	if (input.by === 'link_check' && !(await readCheckService(tx)))
		throw new DomainError('invalid', 'No service that checks identities is set up here. Choose another way.');
	if (input.by === 'portal' && own.outside) throw new DomainError('invalid', `${own.name} is not of the client and has no page here.`);
	if (input.by === 'portal' && !person?.has_access && own.state === 'asked')
		throw new DomainError('invalid', `${own.name} has no access yet. Invite them first, or leave them the link.`);
	await tx.rows('update letter_signer set signs_by = $2 where id = $1', [own.id, input.by]);
	if (own.item_id) await holdReminders(tx, actor, own.item_id);
	if (own.state === 'asked') await announceAnew(tx, [first.request_id], own.contact_id!);
	await recordEvent(tx, actor, {
		verb: 'letter_way_changed',
		...eventAbout(first),
		details: { title: first.title, contact: own.name, by: input.by }
	});
}

export const checkAgainSchema = z.object({ signer: z.string().min(1).max(20) });

/**
 * Lets somebody who did not show who they are try again. They get a new message, and are reminded again.
 * @throws DomainError not_found, changed_meanwhile if nothing keeps them from signing any more, or the letter is over
 */
export async function letCheckAgain(tx: Tx, actor: Actor, input: { itemId: string } & z.output<typeof checkAgainSchema>): Promise<void> {
	requireStaff(actor, 'send_request');
	const { letter, first, own } = await lockSigner(tx, input);
	const again =
		LETTER_OPEN.includes(letter.state) && own.state === 'asked'
			? await tx.first<{ item_id: string | null }>(
					'update letter_signer set checks_left = default, check_stopped_at = null where id = $1 and check_stopped_at is not null returning item_id',
					[own.id]
				)
			: null;
	if (!again)
		throw new DomainError('changed_meanwhile', `Nothing keeps ${own.name} from signing any more, or the letter is over. Nothing was changed.`);
	if (again.item_id) await holdReminders(tx, actor, again.item_id);
	await announceAnew(tx, [first.request_id], own.contact_id!);
	await recordEvent(tx, actor, { verb: 'letter_check_allowed', ...eventAbout(first), details: { title: first.title, contact: own.name } });
}
