import type { IsoDate } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import { firstName } from '$lib/core/letters/merge-fields';
import { requireStaff, type Actor } from '../actor';
import { CHANGED_AHEAD_DAYS } from '../chasing/change-chase';
import { readForecast, type ForecastChase } from '../chasing/read-forecast';
import { withBrandOf } from '../firms/brands';
import type { Firm } from '../firms/firm';
import type { Tx } from '../platform/db/database';
import { ownWords, waitingInvitation } from './send-message';
import type { NamedItem } from './message-kind';
import { writeMail, writeText } from './write-message';

/** A reminder that is planned, as it would be written if nothing changes. */
export interface PlannedChaseShown {
	chase: ForecastChase;
	/** the first of the person's, which can be sent before its day */
	isNext: boolean;
	subject: string;
	html: string | null;
	/** as a text message, where it goes by one */
	text: string | null;
	/** the words that were given to it for this once */
	words: { subject: string; body: string } | null;
	changedBy: string | null;
}

/**
 * The reminder of a person that is planned for a day, with links that lead nowhere.
 * @throws DomainError not_found if none is planned for that day
 */
export async function readPlannedChase(
	tx: Tx,
	actor: Actor,
	firm: Firm,
	of: { contactId: string; day: IsoDate },
	place: { origin: string; secretKey: string; answerable: boolean }
): Promise<PlannedChaseShown> {
	requireStaff(actor, 'look');
	const planned = await readForecast(tx, actor, firm, [of.contactId], CHANGED_AHEAD_DAYS);
	const at = planned.findIndex(({ localDay }) => localDay === of.day);
	if (at < 0) throw new DomainError('not_found', 'No reminder is planned for that day any more. Look at the Almanac again.');
	const chase = planned[at];
	const person = (await tx.first<{ name: string; email: string | null; locale: string }>(
		'select name, email::text, locale from contact where id = $1',
		[of.contactId]
	))!;
	const items = await tx.rows<NamedItem>(
		`select i.id, i.title, i.due_on "dueOn", c.name "clientName", case when i.kind = 'letter' then signable_until(i.id) end until
		from item i join client c on c.id = i.client_id where i.id = any ($1) order by array_position($1, i.id)`,
		[chase.itemIds]
	);
	const changed = await tx.first<{ subject: string | null; body: string | null; by: string }>(
		'select x.subject, x.body, s.name as by from chase_change x join staff s on s.id = x.changed_by_id where x.contact_id = $1 and x.on_day = $2',
		[of.contactId, of.day]
	);
	const clients = new Set(chase.items.map(({ clientId }) => clientId));
	const clientName = clients.size === 1 ? chase.items[0].clientName : undefined;
	const branded = await withBrandOf(tx, firm, { clientId: clients.size === 1 ? chase.items[0].clientId : null, contactId: of.contactId });
	const invited = await waitingInvitation(tx, of.contactId, chase.at);
	const words = changed?.body ? { subject: changed.subject ?? '', body: changed.body } : null;
	const content = {
		...(words ?? {}),
		...(clientName ? { clientName } : {}),
		...(invited ? { invitationId: invited } : {}),
		...(chase.firmer ? { firmer: true } : {})
	};
	const message = async (channel: 'email' | 'text') => ({
		id: of.contactId,
		content,
		toAddress: person.email ?? '',
		recipient: { id: of.contactId, kind: 'contact' as const, name: firstName(person.name), locale: person.locale },
		items,
		ownWords: await ownWords(
			tx,
			firm,
			{ kind: 'chase', channel, recipient_locale: person.locale, recipient_name: person.name },
			content,
			items,
			chase.localDay
		)
	});
	const writing = { ...place, now: chase.at, preview: true, invited: invited !== null };
	const mail = await writeMail(tx, branded, 'chase', await message('email'), writing);
	return {
		chase,
		isNext: at === 0,
		subject: mail.subject,
		html: chase.by.includes('email') || chase.heldBack ? mail.html : null,
		text: chase.by.includes('text') ? (await writeText(tx, branded, 'chase', await message('text'), writing)).text : null,
		words,
		changedBy: changed?.by ?? null
	};
}
