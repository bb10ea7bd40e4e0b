import { z } from 'zod';

/** What a device is told: that there is something new, and where. It holds nothing of a client. */
export const noticeSchema = z.object({
	title: z.string(),
	body: z.string(),
	/** where it is read, a path of ours */ path: z.string().startsWith('/'),
	/** what comes later with the same mark takes its place */ tag: z.string(),
	/** language of the words */ lang: z.string()
});
export type Notice = z.infer<typeof noticeSchema>;

const ENDPOINT_MOST = 1000;

/** A browser's subscription as a form hands it over: where its push service takes what is for it, and its keys (RFC 8291), in base64url. */
export const subscriptionSchema = z.object({
	endpoint: z.url().max(ENDPOINT_MOST),
	/** a point of P-256, uncompressed: 65 bytes */ p256dh: z.string().regex(/^B[\w-]{86}$/),
	/** 16 bytes */ auth: z.string().regex(/^[\w-]{22}$/)
});
export type Subscription = z.infer<typeof subscriptionSchema>;

/**
 * Whether an endpoint is one of a push service that is known: whoever subscribes names the address that we then speak to.
 * @param services hosts that are reached by https, `*.` before one stands for any part; or whole origins
 */
export function isKnownService(endpoint: string, services: readonly string[]): boolean {
	if (!URL.canParse(endpoint)) return false;
	const { origin, protocol, host, username, password } = new URL(endpoint);
	if (username || password) return false;
	return services.some((service) =>
		service.includes('://')
			? origin === service
			: protocol === 'https:' && (service.startsWith('*.') ? host.endsWith(service.slice(1)) && host.length >= service.length : host === service)
	);
}
