import { DomainError } from '$lib/core/errors/domain-error';
import { phoneInWords } from '$lib/core/people/phone';
import { ofMyPeople } from '../../clients/mine';
import type { Tx } from '../../platform/db/database';
import { COUNTED_PEOPLE, FIRST_CLIENT } from '../people';
import { type RoundsAt, type RoundsSectionDefinition, type SectionRow } from '../section';

async function rows(tx: Tx, at: RoundsAt): Promise<SectionRow[]> {
	const nowhere = await tx.rows<{ id: string; name: string; phone: string | null; since: string; client_id: string; client_name: string }>(
		`select c.id, c.name, c.phone, c.created_at since, at.client_id, at.client_name
		from contact c ${FIRST_CLIENT}
		where c.firm_id = $1 and c.mail_problem = 'no_address' and c.removed_at is null and ${ofMyPeople('c.id', 3)} order by c.created_at, lower(c.name), c.id limit $2`,
		[tx.firmId, at.limit, at.mineOf]
	);
	return nowhere.map((person) => ({
		key: `contact-${person.id}`,
		clientId: person.client_id,
		clientName: person.client_name,
		since: person.since,
		words: `${person.name} has no e-mail address`,
		aside: person.phone ? 'phone known' : 'ask for it'
	}));
}

interface NoAddressLeaf {
	kind: 'no_address';
	contact: { id: string; name: string; phone: string | null; phoneWords: string | null };
	clients: { id: string; name: string }[];
	responsible: string;
}

export const noAddress: RoundsSectionDefinition<NoAddressLeaf> = {
	count: `select count(*) from contact c where c.firm_id = $1 and c.mail_problem = 'no_address' and c.removed_at is null
		and ${COUNTED_PEOPLE}`,
	rows,
	leaf: {
		key: 'contact',
		async read(tx, _actor, firm, id) {
			const contact = await tx.first<{ id: string; name: string; phone: string | null }>(
				`select id, name, phone from contact where id = $1 and mail_problem = 'no_address'`,
				[id]
			);
			if (!contact) throw new DomainError('not_found', 'This person has an address by now.');
			const clients = await tx.rows<{ id: string; name: string; responsible: string }>(
				`select cl.id, cl.name, s.name responsible from client_contact cc join client cl on cl.id = cc.client_id join staff s on s.id = cl.responsible_id
			where cc.contact_id = $1 order by cc.rank, cl.name`,
				[id]
			);
			return {
				kind: 'no_address',
				contact: { ...contact, phoneWords: contact.phone && phoneInWords(contact.phone, firm.country) },
				clients,
				responsible: clients[0]?.responsible ?? ''
			};
		},
		clientOf: (leaf) => leaf.clients[0]?.id ?? null
	}
};
