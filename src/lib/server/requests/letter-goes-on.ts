import { randomUUID } from 'node:crypto';
import { addBusinessDays, localDate } from '$lib/core/calendar/firm-calendar';
import type { ItemSpec } from '$lib/core/items/item-kinds';
import type { LetterState } from '$lib/core/signing/letter-states';
import { may, ROLES } from '$lib/core/people/roles';
import { whoIsNext } from '$lib/core/signing/routing';
import { inWords, saying } from '$lib/words/sayings';
import { say } from '$lib/words/words';
import { machine, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { refreshChaseDays } from '../chasing/refresh-schedule';
import { withBrandOf } from '../firms/brands';
import { loadFirm, type Firm } from '../firms/firm';
import { eventAbout, keepSignable, lockItem, moveItem, type LockedItem } from '../items/change-item';
import { writeAboutItem } from '../outbox/write-about-item';
import type { Tx } from '../platform/db/database';
import type { SealingPlace } from '../signing/firm-seal';
import { sealSignedLetter } from '../signing/seal-signed-letter';
import { lockLetterById, readSigners, signing, type LetterSignerRow, type LockedLetter } from '../signing/sign-letter';
import { readRecipient } from './recipients';
import { announce } from './send-request';

/** Business days that somebody has to sign from the day on which it is their turn, if the letter is due earlier. */
const TURN_DAYS = 5;

/**
 * Does what follows from where a letter stands: asks whoever is next, ends what the others were asked once somebody declined, it was
 * withdrawn or has lapsed, and seals it when all have signed. Called again it does nothing more.
 */
export async function letterGoesOn(place: SealingPlace & { origin: string }, firmId: string, letterId: string, now: string): Promise<void> {
	const state = await place.db.inFirm(firmId, (tx) => goOn(tx, machine(now), letterId));
	if (state === 'complete') await sealSignedLetter(place, firmId, letterId, now);
}

async function goOn(tx: Tx, actor: Actor, letterId: string): Promise<LetterState> {
	const letter = await lockLetterById(tx, letterId);
	const signers = await readSigners(tx, letter.id);
	const firm = await withBrandOf(tx, await loadFirm(tx), { clientId: letter.client_id });
	if (letter.state === 'declined' || letter.state === 'withdrawn' || letter.state === 'lapsed') await endForOthers(tx, actor, firm, letter, signers);
	if (letter.state !== 'sent' && letter.state !== 'signed') return letter.state;
	for (const next of whoIsNext(signing(signers))) {
		if (next.side === 'firm') await tx.rows(`update letter_signer set state = 'asked', asked_at = $2 where id = $1`, [next.id, actor.now]);
		else await askToSign(tx, actor, firm, letter, signers, next);
	}
	// what somebody signed is settled for them; the firm looks at it when the last of the client has signed
	const signed = await tx.rows<{ id: string }>(
		`select i.id from letter_signer s join item i on i.id = s.item_id join signature g on g.letter_id = s.letter_id and g.rank = s.position
		where s.letter_id = $1 and i.state = 'handed_in' order by g.signed_at, g.rank`,
		[letter.id]
	);
	for (const { id } of letter.state === 'sent' ? signed : signed.slice(0, -1)) await moveItem(tx, actor, firm, await lockItem(tx, id), 'accept');
	return letter.state;
}

/** Asks one more of the client's people: an item of their own in the same request, and a message when it is their turn. */
async function askToSign(
	tx: Tx,
	actor: Actor,
	firm: Firm,
	letter: LockedLetter,
	signers: readonly LetterSignerRow[],
	next: LetterSignerRow
): Promise<void> {
	const request = await tx.first<{
		id: string;
		contact_id: string;
		title: string;
		message: string;
		quiet: boolean;
		due_on: string | null;
		created_by_id: string | null;
		spec: ItemSpec<'letter'>;
	}>(
		`select r.id, r.contact_id, r.title, r.message, r.quiet, i.due_on, r.created_by_id, i.spec from item i join request r on r.id = i.request_id where i.id = $1`,
		[letter.item_id]
	);
	const today = localDate(actor.now, firm.calendar);
	const soonest = addBusinessDays(today, TURN_DAYS, firm.calendar);
	const { due_on } = request!;
	// somebody may have been put in the place of who was asked before
	const itemId = next.item_id ?? randomUUID();
	if (next.item_id)
		await tx.rows('update item set due_on = greatest(due_on, $2), asked_on = $3, chased_through = $3, chased_turn = 0 where id = $1', [
			itemId,
			soonest,
			today
		]);
	else
		await tx.rows(
			`insert into item (id, firm_id, client_id, request_id, contact_id, position, kind, heading, title, why, text, required, due_on, spec, attachments, accepts_itself,
			state, state_at, asked_on, chased_through, chase_plan, chase_plan_from, chase_plan_named, own)
		select $2, firm_id, client_id, request_id, $3, position, kind, heading, title, why, text, required, $4, spec, attachments, accepts_itself, 'asked', $5, $6, $6, chase_plan, chase_plan_from, chase_plan_named, true
		from item where id = $1`,
			[letter.item_id, itemId, next.contact_id, due_on && due_on < soonest && next.rank > 1 ? soonest : due_on, actor.now, today]
		);
	await tx.rows(`update letter_signer set state = 'asked', asked_at = $2, item_id = $3 where id = $1`, [next.id, actor.now, itemId]);
	const item = await lockItem(tx, itemId);
	await refreshChaseDays(tx, [itemId, ...(item.due_on ? await keepSignable(tx, itemId, item.due_on) : [])], firm);
	await recordEvent(tx, actor, { verb: 'letter_turn', ...eventAbout(item), details: { title: item.title, contact: next.name } });
	const person = { id: next.contact_id!, ...(await readRecipient(tx, letter.client_id, next.contact_id!, !next.outside)) };
	const before = signers.filter(({ state, side }) => state === 'signed' && side === 'client').map(({ name }) => name);
	const words = request!.spec.signing?.signers.find(({ key }) => key === next.key)?.words?.trim();
	const message =
		words ||
		(before.length > 0
			? say(person.locale, 'mail.request.turn', { names: new Intl.ListFormat(person.locale).format(before), title: item.title })
			: request!.message);
	const { id, contact_id, title, quiet, created_by_id } = request!;
	// somebody who cannot be written to just now is named in Rounds; what they are asked is on their page
	if (person.notAsked) return;
	await announce(
		tx,
		(await asSender(tx, letter.client_id, created_by_id, actor.now)) ?? actor,
		firm,
		person,
		{ clientId: letter.client_id, contactId: contact_id, title, message, quiet, tellNow: false, withInvitation: true },
		id,
		[{ id: itemId, contact_id: person.id, shared: false }],
		{ about: ` ${next.key}` }
	);
}

/** Whoever sent the request, or looks after the client, or anybody else who may: what it brings about later is sent in their name. */
export async function asSender(tx: Tx, clientId: string, staffId: string | null, now: string): Promise<Actor | null> {
	const staff = await tx.first<Pick<Actor, 'id' | 'name' | 'role'>>(
		`select id, name, role from staff where firm_id = $1 and suspended_at is null and role = any ($2)
		order by id is distinct from $3, id is distinct from (select responsible_id from client where id = $4), created_at, id limit 1`,
		[tx.firmId, ROLES.filter((role) => may(role, 'send_request')), staffId, clientId]
	);
	return staff && { ...machine(now), ...staff, kind: 'staff' };
}

/** Nobody else needs to sign: what they were asked ends, and whoever was asked or has signed is told why. */
async function endForOthers(tx: Tx, actor: Actor, firm: Firm, letter: LockedLetter, signers: readonly LetterSignerRow[]): Promise<void> {
	const by = signers.find(({ state }) => state === 'declined');
	await tx.rows(`update letter_signer set state = 'stopped' where letter_id = $1 and state in ('waits', 'asked')`, [letter.id]);
	for (const { id, contact_id, item_id, state } of signing(signers)) {
		if (!item_id || !contact_id || id === by?.id) continue;
		const item: LockedItem = await lockItem(tx, item_id);
		const reason = inWords(
			firm.locale,
			by
				? saying('letter.stopped.declined', { name: by.name })
				: letter.state === 'lapsed'
					? saying('letter.stopped.lapsed')
					: saying('letter.stopped.withdrawn', { firm: firm.name })
		);
		if (item.state !== 'waived' && item.state !== 'declined' && item.state !== 'accepted') await moveItem(tx, actor, firm, item, 'waive', { reason });
		// of a letter that one person was to sign, nobody else needs to hear; nor does somebody whom nothing has reached
		if (signing(signers).filter(({ side }) => side === 'client').length < 2) continue;
		const told = await tx.first(
			`select 1 from message_item mi join message m on m.id = mi.message_id where mi.item_id = $1 and m.state <> 'held_back' limit 1`,
			[item_id]
		);
		if (!told && state !== 'signed') continue;
		await writeAboutItem(tx, actor, item, {
			kind: 'letter_stopped',
			idempotencyKey: `letter stopped ${letter.id} ${contact_id}`,
			content: { itemTitle: item.title, ...(by ? { subject: by.name } : letter.state === 'lapsed' ? { reason: 'lapsed' } : {}) }
		});
	}
}
