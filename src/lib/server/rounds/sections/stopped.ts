import { DomainError } from '$lib/core/errors/domain-error';
import { phoneInWords } from '$lib/core/people/phone';
import { ofMyPeople } from '../../clients/mine';
import type { Tx } from '../../platform/db/database';
import { COUNTED_PEOPLE, FIRST_CLIENT } from '../people';
import { type RoundsAt, type RoundsSectionDefinition, type SectionRow } from '../section';

/** How somebody stopped reminders. */
export type StoppedHow = 'link' | 'page' | 'complaint';
/** People `c` who have stopped reminders, which nobody of the firm has seen yet. */
const UNSEEN = `c.firm_id = $1 and c.mail_problem = 'opted_out' and c.stopped_at is not null and c.stop_seen_at is null and c.removed_at is null`;

async function rows(tx: Tx, at: RoundsAt): Promise<SectionRow[]> {
	const people = await tx.rows<{ id: string; name: string; how: StoppedHow; since: string; client_id: string; client_name: string; open: number }>(
		`select c.id, c.name, coalesce(c.stopped_how, 'link') how, coalesce(c.stopped_at, c.created_at) since, at.client_id, at.client_name,
			(select count(*) from item i where i.contact_id = c.id and i.phase = 'open') open
		from contact c ${FIRST_CLIENT}
		where ${UNSEEN} and ${ofMyPeople('c.id', 3)} order by c.stopped_at, c.id limit $2`,
		[tx.firmId, at.limit, at.mineOf]
	);
	return people.map((person) => ({
		key: `stopped-${person.id}`,
		clientId: person.client_id,
		clientName: person.client_name,
		since: person.since,
		words: person.how === 'complaint' ? `mail to ${person.name} was reported as unwanted` : `${person.name} has stopped reminders`,
		aside: person.open === 0 ? 'nothing is open' : person.open === 1 ? 'one thing is open' : `${person.open} things are open`
	}));
}

interface StoppedLeaf {
	kind: 'stopped';
	contact: { id: string; name: string; phone: string | null; phoneWords: string | null; how: StoppedHow; at: string };
	/** the mail that was reported */ unwanted: { id: string; subject: string } | null;
	/** their clients, with what is open for them there */
	clients: { id: string; name: string; items: { id: string; title: string }[] }[];
}

export const stopped: RoundsSectionDefinition<StoppedLeaf> = {
	count: `select count(*) from contact c where ${UNSEEN}
		and ${COUNTED_PEOPLE}`,
	rows,
	leaf: {
		key: 'stopped',
		async read(tx, _actor, firm, id) {
			const contact = await tx.first<Omit<StoppedLeaf['contact'], 'phoneWords'>>(
				`select c.id, c.name, c.phone, coalesce(c.stopped_how, 'link') how, coalesce(c.stopped_at, c.created_at) "at"
				from contact c where c.id = $2 and ${UNSEEN}`,
				[tx.firmId, id]
			);
			if (!contact) throw new DomainError('not_found', 'Somebody has seen this by now, or they let reminders come again.');
			return {
				kind: 'stopped',
				contact: { ...contact, phoneWords: contact.phone && phoneInWords(contact.phone, firm.country) },
				unwanted:
					contact.how === 'complaint'
						? await tx.first<{ id: string; subject: string }>(
								`select id, coalesce(subject, '') subject from message where contact_id = $1 and unwanted_at is not null order by unwanted_at desc, id limit 1`,
								[id]
							)
						: null,
				clients: await tx.rows<StoppedLeaf['clients'][number]>(
					`select cl.id, cl.name, coalesce((select json_agg(json_build_object('id', i.id, 'title', i.title) order by i.due_on, i.id)
						from item i where i.client_id = cl.id and i.contact_id = $1 and i.phase = 'open'), '[]') items
					from client_contact cc join client cl on cl.id = cc.client_id where cc.contact_id = $1 order by cc.rank, cl.name, cl.id`,
					[id]
				)
			};
		},
		clientOf: (leaf) => leaf.clients[0]?.id ?? null
	}
};
