import { addDays, localDate } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import { invitationStateAt } from '$lib/core/invitations/invitation-states';
import { ofMine } from '../../clients/mine';
import { readClient, type ClientRecord } from '../../clients/read-clients';
import { invitationDraft, type InvitationDraft } from '../../invitations/invitation-draft';
import type { Tx } from '../../platform/db/database';
import { COUNTED, type RoundsAt, type RoundsSectionDefinition, type SectionRow } from '../section';

/** An invitation is shown when nobody took it up for this many days, or when it has lapsed. */
const INVITATION_WAIT_DAYS = 5;

/** An invitation `i` of a contact `c` that nobody took up, at an instant. */
const notTakenUpAt = (
	now: string
) => `i.taken_up_at is null and (i.withdrawn_at is null or i.asked_again_at is not null) and i.replaced_at is null and i.put_aside_at is null
	and c.mail_problem is null and c.password_hash is null and (i.asked_again_at is not null or i.sent_at <= ${now} - make_interval(days => ${INVITATION_WAIT_DAYS}) or i.expires_at <= ${now})`;

async function rows(tx: Tx, at: RoundsAt): Promise<SectionRow[]> {
	const invitations = await tx.rows<{
		id: string;
		sentAt: string;
		expiresAt: string;
		openedAt: string | null;
		again: boolean;
		client_id: string;
		client_name: string;
		contact_name: string;
	}>(
		`select i.id, i.sent_at as "sentAt", i.expires_at as "expiresAt", i.opened_at as "openedAt", i.asked_again_at is not null again, i.client_id, cl.name client_name, c.name contact_name
		from invitation i join client cl on cl.id = i.client_id join contact c on c.id = i.contact_id
		where i.firm_id = $1 and cl.state = 'active' and ${notTakenUpAt('$2::timestamptz')} and ${ofMine('i.client_id', 4)} order by i.sent_at limit $3`,
		[tx.firmId, at.now, at.limit, at.mineOf]
	);
	return invitations.map((i) => {
		const state = invitationStateAt({ expiresAt: i.expiresAt, takenUpAt: null, withdrawnAt: null, replacedAt: null }, at.now);
		const lapses = localDate(i.expiresAt, at.firm.calendar);
		return {
			key: `invitation-${i.id}`,
			clientId: i.client_id,
			clientName: i.client_name,
			since: i.sentAt,
			words: `${i.contact_name} ${i.again ? 'asks for a new link' : i.openedAt ? 'opened the link but chose no password' : 'has not opened the invitation'}`,
			aside: state === 'expired' ? `lapsed ${at.due(lapses)}` : lapses <= addDays(at.today, 1) ? 'lapses soon' : `lapses ${at.due(lapses)}`
		};
	});
}

interface InvitationLeaf {
	kind: 'invitation';
	client: ClientRecord;
	contactId: string;
	invitation: { id: string; state: string; sentAt: string; expiresAt: string; openedAt: string | null };
	draft: InvitationDraft;
}

export const notTakenUp: RoundsSectionDefinition<InvitationLeaf> = {
	count: `select count(*) from invitation i join contact c on c.id = i.contact_id where i.firm_id = $1
		and i.client_id not in (select id from closed) and ${notTakenUpAt(COUNTED.now)} and ${ofMine('i.client_id', COUNTED.mineOf)}`,
	rows,
	leaf: {
		key: 'invitation',
		async read(tx, actor, firm, id) {
			const invitation = await tx.first<{
				id: string;
				contact_id: string;
				client_id: string;
				sentAt: string;
				expiresAt: string;
				openedAt: string | null;
				takenUpAt: string | null;
				withdrawnAt: string | null;
				replacedAt: string | null;
			}>(
				`select id, contact_id, client_id, sent_at as "sentAt", expires_at as "expiresAt", opened_at as "openedAt", taken_up_at as "takenUpAt", withdrawn_at as "withdrawnAt", replaced_at as "replacedAt" from invitation where id = $1`,
				[id]
			);
			if (!invitation) throw new DomainError('not_found', 'There is no such invitation.');
			const client = await readClient(tx, actor, invitation.client_id);
			return {
				kind: 'invitation',
				client,
				contactId: invitation.contact_id,
				invitation: { ...invitation, state: invitationStateAt(invitation, actor.now) },
				draft: invitationDraft(firm, client.name)
			};
		},
		clientOf: (leaf) => leaf.client.id
	}
};
