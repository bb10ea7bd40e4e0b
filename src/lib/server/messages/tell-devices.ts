import { addToInstant } from '$lib/core/calendar/firm-calendar';
import type { MessageKind } from '$lib/core/messages/message-states';
import type { Notice, Subscription } from '$lib/core/telling/push';
import { sayer } from '$lib/words/words';
import { loadFirm, type Firm } from '../firms/firm';
import { withBrandOf } from '../firms/brands';
import type { Clock } from '../platform/clock';
import type { Database } from '../platform/db/database';
import { log } from '../platform/log';
import type { PushService } from '../platform/push/push-service';
import { MESSAGE_KIND_DEFINITIONS } from './message-kinds';

/** How long a device is left alone after it was told: one message by e-mail and by text, or several in a row, are one notice. */
const QUIET_SECONDS = 60;
/** After so long nobody is told any more that something is new. */
const OLD_HOURS = 12;

/** Whether devices are told that a message of a kind came: not of codes and warnings, which are for one address, nor of what can wait. */
export const reachesDevices = (kind: MessageKind): boolean => {
	const { address, quiet } = MESSAGE_KIND_DEFINITIONS[kind];
	return address === 'theirs now' && !quiet;
};

/**
 * Tells whom a message was sent to, on the devices on which they want it, that there is something new: nothing of what. A device that is not
 * reached any more is forgotten. Done again, it tells only those that were not reached.
 * @throws Error if a push service asks to come back later
 */
export async function tellDevices(
	place: { db: Database; clock: Clock; pushes: PushService | null },
	firmId: string,
	messageId: string
): Promise<void> {
	const { db, clock, pushes } = place;
	const now = clock.now();
	const toTell =
		pushes &&
		(await db.inFirm(firmId, async (tx) => {
			const message = await tx.first<{ person: string; contact_id: string | null; client_id: string | null; locale: string }>(
				`select coalesce(m.staff_id, m.contact_id) person, m.contact_id, m.client_id, coalesce(c.locale, 'en') locale
				from message m left join contact c on c.id = m.contact_id left join staff s on s.id = m.staff_id
				where m.id = $1 and m.state = 'sent' and m.sent_at > $2 and coalesce(c.suspended_at, c.removed_at, s.suspended_at) is null`,
				[messageId, addToInstant(now, { hours: -OLD_HOURS })]
			);
			const firm = await loadFirm(tx);
			// nothing leaves a practice workspace
			if (!message || firm.isPractice) return null;
			const devices = await tx.rows<Subscription & { device_id: string }>(
				`select t.device_id, t.endpoint, t.p256dh, t.auth from told_device t join device_told d on d.device_id = t.device_id
				where coalesce(t.staff_id, t.contact_id) = $1 and t.told_of is distinct from $2 and (t.told_at is null or t.told_at <= $3)`,
				[message.person, messageId, addToInstant(now, { seconds: -QUIET_SECONDS })]
			);
			const notice = message.contact_id
				? noticeTo(await withBrandOf(tx, firm, { clientId: message.client_id, contactId: message.contact_id }), message.locale)
				: STAFF_NOTICE;
			return { devices, notice };
		}));
	if (!toTell) return;
	const later: string[] = [];
	for (const { device_id, ...subscription } of toTell.devices) {
		const answer = await pushes.send(subscription, toTell.notice);
		if (answer.outcome === 'try_later') later.push(answer.reason);
		else if (answer.outcome === 'gone')
			await db.inFirm(firmId, (tx) => tx.rows('delete from told_device where device_id = $1 and endpoint = $2', [device_id, subscription.endpoint]));
		else {
			if (answer.outcome === 'refused') log.error({ reason: answer.reason, device: device_id }, 'a device could not be told');
			await db.inFirm(firmId, (tx) => tx.rows('update told_device set told_at = $2, told_of = $3 where device_id = $1', [device_id, now, messageId]));
		}
	}
	if (later.length > 0) throw new Error(later.join('; '));
}

function noticeTo(firm: Pick<Firm, 'name' | 'slug'>, lang: string): Notice {
	return { title: firm.name, body: sayer(lang)('push.contact', { firm: firm.name }), path: `/portal/${firm.slug}`, tag: 'new', lang };
}
const STAFF_NOTICE: Notice = {
	title: 'Humble Lantern',
	body: 'Something has come that you wanted to know of.',
	path: '/desk/rounds',
	tag: 'new',
	lang: 'en'
};
