import { dateWords } from '$lib/words/dates';
import { phoneInWords } from '$lib/core/people/phone';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { readCall, type CallToMake } from '../../chasing/calls';
import { readTriedWith, type TriedWith } from '../../chasing/what-works';
import { ofMine } from '../../clients/mine';
import type { Tx } from '../../platform/db/database';
import { COUNTED, type RoundsAt, type RoundsSectionDefinition, type SectionRow } from '../section';

/**
 * Calls `k` that wait today, and what partners are told, while anything is open; whoever looks only at what is theirs sees those of their
 * clients, and a partner all that partners are told.
 */
const WAITS = (
	today: string,
	mineOf: number
) => `k.firm_id = $1 and k.done_at is null and k.waits_from <= ${today} and exists (select from client a where a.id = k.client_id and a.state = 'active')
	and exists (select from item i where i.contact_id = k.contact_id and i.client_id = k.client_id and i.phase = 'open')
	and (${ofMine('k.client_id', mineOf)} or (k.for_partner and exists (select from staff s where s.id = $${mineOf} and s.role = 'partner')))`;

async function rows(tx: Tx, at: RoundsAt): Promise<SectionRow[]> {
	const waiting = await tx.rows<{
		id: string;
		for_partner: boolean;
		client_id: string;
		client: string;
		contact: string;
		phone: string | null;
		made_at: string;
		open: number;
		tries: number;
	}>(
		`select k.id, k.for_partner, k.client_id, cl.name client, c.name contact, c.phone, k.made_at, k.tries,
			(select count(*) from item i where i.contact_id = k.contact_id and i.client_id = k.client_id and i.phase = 'open') open
		from chase_call k join client cl on cl.id = k.client_id join contact c on c.id = k.contact_id
		where ${WAITS(COUNTED.today, 4)} order by k.made_at, k.id limit $2`,
		[tx.firmId, at.limit, at.today, at.mineOf]
	);
	return waiting.map((one) => {
		const things = one.open === 1 ? 'one thing open' : `${one.open} things open`;
		return {
			key: `call-${one.id}`,
			clientId: one.client_id,
			clientName: one.client,
			since: one.made_at,
			words: one.for_partner
				? `nothing has helped with ${one.contact}: ${things}`
				: `call ${one.contact}: ${things}${one.tries > 0 ? `, not reached ${one.tries === 1 ? 'once' : `${one.tries} times`}` : ''}`,
			aside: one.for_partner ? 'for a partner' : one.phone ? phoneInWords(one.phone, at.firm.country) : 'no telephone number'
		};
	});
}

interface CallLeaf {
	kind: 'call';
	call: CallToMake;
	/** what was tried with them */ tried: TriedWith;
	today: string;
	/** each thing that is open, when it was due in words */
	due: Record<string, string>;
}

export const calls: RoundsSectionDefinition<CallLeaf> = {
	count: `select count(*) from chase_call k where ${WAITS(COUNTED.today, COUNTED.mineOf)}`,
	rows,
	leaf: {
		key: 'call',
		async read(tx, actor, firm, id) {
			const read = await readCall(tx, actor, id);
			const call = { ...read, phone: read.phone && phoneInWords(read.phone, firm.country) };
			return {
				kind: 'call',
				call,
				tried: (await readTriedWith(tx, actor, firm, call.clientId, [call.contactId]))[0],
				today: localDate(actor.now, firm.calendar),
				due: Object.fromEntries(call.items.map((item) => [item.id, item.dueOn ? dateWords(firm.locale, item.dueOn) : '']))
			};
		},
		clientOf: (leaf) => leaf.call.clientId
	}
};
