import { ofMyPeople } from '../../clients/mine';
import type { FailedFor } from '../../messages/settle-message';
import { readMessage, type PostroomMessage } from '../../messages/read-postroom';
import type { Tx } from '../../platform/db/database';
import { COUNTED, type RoundsAt, type RoundsSectionDefinition, type SectionRow } from '../section';

const HOW_FAILED: Record<FailedFor, string> = {
	address: 'did not arrive',
	moved: 'did not arrive: the mailbox has moved',
	full: 'did not arrive: the mailbox is full',
	server: 'could not be handed over'
};
const WHAT_HELPS: Record<FailedFor, string> = {
	address: 'find a new address',
	moved: 'ask for the new address',
	full: 'tell them another way',
	server: 'the mail server was away'
};

async function rows(tx: Tx, at: RoundsAt): Promise<SectionRow[]> {
	const trouble = await tx.rows<{
		id: string;
		kind: string;
		subject: string | null;
		state: string;
		reason: string | null;
		since: string;
		client_id: string | null;
		client_name: string | null;
		contact_name: string;
		address: string;
		channel: 'email' | 'text';
		failed_for: FailedFor | null;
	}>(
		`select distinct on (coalesce(m.contact_id, m.staff_id), m.state = 'unclear') m.id, m.kind, m.subject, m.state, m.reason, coalesce(m.settled_at, m.planned_at) since, m.to_address address, m.channel,
			coalesce(m.client_id, cc.client_id) client_id, coalesce(cl.name, ccl.name) client_name, coalesce(c.name, s.name) contact_name, m.failed_for
		from message m left join contact c on c.id = m.contact_id left join staff s on s.id = m.staff_id left join client cl on cl.id = m.client_id
			left join lateral (select client_id from client_contact where contact_id = c.id order by rank limit 1) cc on true left join client ccl on ccl.id = cc.client_id
		where m.firm_id = $1 and m.state in ('failed', 'unclear') and m.seen_by_staff_at is null and m.public_answer_id is null and (m.staff_id = $2 or ${ofMyPeople('m.contact_id', 2)})
		order by coalesce(m.contact_id, m.staff_id), m.state = 'unclear', m.planned_at desc`,
		[tx.firmId, at.mineOf]
	);
	return trouble
		.sort((a, b) => a.since.localeCompare(b.since))
		.slice(0, at.limit)
		.map((m) => ({
			key: `message-${m.id}`,
			clientId: m.client_id,
			clientName: m.client_name ?? m.contact_name,
			since: m.since,
			words:
				m.state === 'unclear'
					? `nobody knows whether “${m.subject ?? m.kind}” reached ${m.contact_name}`
					: `${m.channel === 'text' ? 'the text' : 'mail'} to ${m.address} ${HOW_FAILED[m.failed_for ?? 'address']}`,
			aside:
				m.state === 'unclear'
					? 'ask them'
					: m.channel === 'text' && m.failed_for !== 'server'
						? 'check the number'
						: WHAT_HELPS[m.failed_for ?? 'address']
		}));
}

interface MessageLeaf {
	kind: 'message';
	message: PostroomMessage;
	clientId: string | null;
}

export const mailTrouble: RoundsSectionDefinition<MessageLeaf> = {
	count: `select count(distinct (coalesce(contact_id, staff_id), state = 'unclear')) from message m where firm_id = $1 and state in ('failed', 'unclear')
		and seen_by_staff_at is null and m.public_answer_id is null and (m.staff_id = $${COUNTED.mineOf} or ${ofMyPeople('m.contact_id', COUNTED.mineOf)})`,
	rows,
	leaf: {
		key: 'message',
		async read(tx, actor, _firm, id) {
			const message = await readMessage(tx, actor, id);
			const client =
				message.contactId &&
				(await tx.first<{ client_id: string | null }>(
					`select coalesce(m.client_id, (select client_id from client_contact where contact_id = m.contact_id order by rank limit 1)) client_id
					from message m where m.id = $1`,
					[id]
				));
			return { kind: 'message', message, clientId: client ? client.client_id : null };
		},
		clientOf: (leaf) => leaf.clientId
	}
};
