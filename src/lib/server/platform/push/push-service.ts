import { createECDH, ECDH } from 'node:crypto';
import webpush from 'web-push';
import type { Notice, Subscription } from '$lib/core/telling/push';

/** What a push service made of something for a device: taken; the device is not reached there any more; it is not taken; not now. */
export type PushAnswer = { outcome: 'taken' } | { outcome: 'gone' | 'refused' | 'try_later'; reason: string };

/** Hands to push services what devices are told. */
export interface PushService {
	/** our public key (RFC 8292), base64url: browsers subscribe with it */
	publicKey: string;
	/** the services that are spoken to, as `isKnownService` takes them */
	services: readonly string[];
	send(subscription: Subscription, notice: Notice): Promise<PushAnswer>;
}

/** Seconds for which a device that is not reached may still be told: what is new today is old tomorrow. */
const KEPT_SECONDS = 12 * 3600;
const GONE = [403, 404, 410];

/** The public key that belongs to a private one, both base64url. @throws Error if it is none of P-256 */
export function publicKeyOf(privateKey: string): string {
	const key = createECDH('prime256v1');
	key.setPrivateKey(Buffer.from(privateKey, 'base64url'));
	return key.getPublicKey().toString('base64url');
}

/** Whether somebody's public key is one: 65 bytes may as well be none. */
function isPoint(publicKey: string): boolean {
	try {
		ECDH.convertKey(publicKey, 'prime256v1', 'base64url');
		return true;
	} catch {
		return false;
	}
}

/**
 * Speaks to push services over HTTP (RFC 8030): what is said is encrypted for the device (RFC 8291), and who says it is signed (VAPID, RFC
 * 8292). 404 and 410: the device is not reached there any more; 403: it subscribed with another key; the same where the key it gave is none.
 * 408, 429, 5xx: later.
 * @param given.contact whom a push service may turn to: a `mailto:` or `https:` address
 */
export function webPushService(given: { privateKey: string; contact: string; services: readonly string[] }): PushService {
	const publicKey = publicKeyOf(given.privateKey);
	return {
		publicKey,
		services: given.services,
		async send({ endpoint, p256dh, auth }, notice) {
			if (!isPoint(p256dh)) return { outcome: 'gone', reason: 'the key of the browser is no point of P-256' };
			const { method, headers, body } = webpush.generateRequestDetails({ endpoint, keys: { p256dh, auth } }, JSON.stringify(notice), {
				vapidDetails: { subject: given.contact, publicKey, privateKey: given.privateKey },
				TTL: KEPT_SECONDS,
				urgency: 'normal',
				contentEncoding: 'aes128gcm'
			});
			let response: Response;
			try {
				response = await fetch(endpoint, {
					method,
					headers: headers as Record<string, string>,
					body: new Uint8Array(body as Buffer),
					redirect: 'error',
					signal: AbortSignal.timeout(20_000)
				});
			} catch (error) {
				const code = ((error as Error).cause as { code?: string } | undefined)?.code ?? (error as Error).name;
				return { outcome: 'try_later', reason: `no answer from the push service (${code})` };
			}
			await response.body?.cancel();
			const { status } = response;
			if (response.ok) return { outcome: 'taken' };
			const reason = `the push service answered ${status}`;
			return { outcome: GONE.includes(status) ? 'gone' : status >= 500 || [408, 429].includes(status) ? 'try_later' : 'refused', reason };
		}
	};
}
