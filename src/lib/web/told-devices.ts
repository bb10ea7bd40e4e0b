import { z } from 'zod';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { deviceInWords } from '$lib/core/people/device-words';
import { subscriptionSchema } from '$lib/core/telling/push';
import { DomainError } from '$lib/core/errors/domain-error';
import type { Actor } from '$lib/server/actor';
import type { Firm } from '$lib/server/firms/firm';
import { readToldDevices, stopOnDevice, tellOnDevice } from '$lib/server/people/told-devices';
import type { Tx } from '$lib/server/platform/db/database';
import type { PushService } from '$lib/server/platform/push/push-service';
import { dateWords } from '$lib/words/dates';
import { saying } from '$lib/words/sayings';
import { say } from '$lib/words/words';
import type { SignedIn } from '$lib/server/people/sessions';

interface Place {
	actor: Actor;
	context: { pushes: PushService | null };
}

/** On which devices whoever is signed in is told, in words, and the key with which a browser subscribes; null where nobody can be told so. */
export async function readDevices(
	tx: Tx,
	{ actor, context }: Place,
	{ sessionId }: SignedIn,
	firm: Pick<Firm, 'calendar' | 'isPractice'>,
	locale: string
) {
	if (!context.pushes || firm.isPractice) return null;
	const told = await readToldDevices(tx, actor, sessionId);
	return {
		key: context.pushes.publicKey,
		told: told.map(({ id, userAgent, since, here }) => {
			const device = deviceInWords(userAgent);
			return {
				id,
				here,
				device: device ? say(locale, 'you.device', device) : say(locale, 'you.device.unknown'),
				since: dateWords(locale, localDate(since, firm.calendar))
			};
		})
	};
}
export type Devices = NonNullable<Awaited<ReturnType<typeof readDevices>>>;

/** What a form asks for that tells somebody on the device they are on. @throws as `tellOnDevice`, ZodError */
export function tellHere(tx: Tx, { actor, context }: Place, { sessionId }: SignedIn, form: FormData): Promise<void> {
	if (!context.pushes) throw new DomainError('not_found', saying('wrong.push.service'));
	const subscription = subscriptionSchema.parse(Object.fromEntries(['endpoint', 'p256dh', 'auth'].map((name) => [name, form.get(name)])));
	return tellOnDevice(tx, actor, { sessionId, subscription, services: context.pushes.services });
}

/** What a form asks for that tells somebody nothing any more on one of their devices. @throws as `stopOnDevice`, ZodError */
export const stopThere = (tx: Tx, { actor }: Place, form: FormData): Promise<void> =>
	stopOnDevice(tx, actor, z.uuid('Choose a device.').parse(form.get('device')));
