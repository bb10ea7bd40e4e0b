import type { AwaitedLetter } from '$lib/core/requests/after-letters';
import { DomainError } from '$lib/core/errors/domain-error';
import { titleWithoutPeriod, type PeriodKind } from '$lib/core/schedules/due-rule';
import { LETTER_OPEN } from '$lib/core/signing/letter-states';
import { requireStaff, type Actor } from '../actor';
import type { Tx } from '../platform/db/database';

/** The letters of a client that somebody has still to sign, for which other things can wait. */
export function readOpenLetters(tx: Tx, actor: Actor, clientId: string): Promise<AwaitedLetter[]> {
	requireStaff(actor, 'look');
	return tx.rows(
		`select l.id, i.id as "itemId", i.title, l.state from letter l join item i on i.id = l.item_id
		where l.client_id = $1 and l.state = any ($2) order by i.title, l.id`,
		[clientId, LETTER_OPEN]
	);
}

/**
 * Makes sure that something can wait for letters: they are this client's, and somebody has still to sign each. They stay so until the
 * transaction ends.
 * @throws DomainError changed_meanwhile
 */
export async function requireOpenLetters(tx: Tx, clientId: string, ids: readonly string[]): Promise<void> {
	const open = await tx.rows('select id from letter where id = any ($1) and client_id = $2 and state = any ($3) order by id for share', [
		ids,
		clientId,
		LETTER_OPEN
	]);
	if (open.length !== new Set(ids).size)
		throw new DomainError(
			'changed_meanwhile',
			'This letter is signed by all meanwhile, or cannot be signed any more. Load the page again and choose.'
		);
}

/** What goes, or goes on, once the letter of an item is signed by all. */
export async function readWaitingFor(tx: Tx, actor: Actor, itemId: string): Promise<{ href: string; title: string }[]> {
	requireStaff(actor, 'look');
	const rows = await tx.rows<{ href: string; title: string; kind: PeriodKind }>(
		`with wanted as (select s.letter_id id from letter_signer s where s.item_id = $1)
		select '/desk/clients/' || d.client_id || '/ask?draft=' || d.id href, coalesce(nullif(d.title, ''), 'Untitled request') title, 'none' kind
		from request_draft d where d.firm_id = $2 and d.after_letters <> '{}' and d.removed_at is null and d.after_letters && array(select id from wanted)
		union all select '/desk/clients/' || r.client_id || '/standing/' || r.id, r.title, r.period_kind
		from recurring_request r where r.firm_id = $2 and r.after_letters <> '{}' and r.after_letters && array(select id from wanted) order by title`,
		[itemId, tx.firmId]
	);
	return rows.map(({ href, title, kind }) => ({ href, title: titleWithoutPeriod(title, { kind }) }));
}
