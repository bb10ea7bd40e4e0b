import { z } from 'zod';
import { DomainError } from '$lib/core/errors/domain-error';
import { notAskedWords, type NotAsked } from '$lib/core/requests/who-may-be-asked';
import { LETTER_OPEN } from '$lib/core/signing/letter-states';
import { signerStateAfter } from '$lib/core/signing/routing';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { eventAbout, lockItem } from '../items/change-item';
import type { Tx } from '../platform/db/database';
import { enqueue } from '../platform/queue';
import { lockLetter, readSigners } from '../signing/sign-letter';

export const replaceSignerSchema = z.object({ signer: z.string().min(1).max(20), contactId: z.uuid('Choose who signs instead.') });

/**
 * Puts somebody else of the client in the place of one who has not signed; in the place of somebody outside, also another one outside. What others have signed stays; whoever is put in is asked when
 * it is their turn, and who was asked before is not any more.
 * @throws DomainError not_found, invalid if they sign already or cannot be asked, changed_meanwhile if the one has signed or the letter is over
 */
export async function replaceSigner(tx: Tx, actor: Actor, input: { itemId: string } & z.output<typeof replaceSignerSchema>): Promise<void> {
	requireStaff(actor, 'send_request');
	const letter = await lockLetter(tx, input.itemId);
	const first = await lockItem(tx, letter.item_id);
	const signers = await readSigners(tx, letter.id);
	const own = signers.find(({ key, side }) => key === input.signer && side === 'client');
	if (!own) throw new DomainError('not_found', 'This person is not among those who sign.');
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
	await enqueue(tx, 'letter_goes_on', { firmId: tx.firmId, letterId: letter.id });
}
