import { createHmac, timingSafeEqual } from 'node:crypto';
import { z } from 'zod';
import type { MailAnswer } from '../mail/mailer';

export interface OutgoingTextMessage {
	/** our message's id: comes back in every report */
	reference: string;
	/** E.164 */
	to: string;
	words: string;
}

/** Hands text messages to a gateway. The answers are those of the mailer. */
export interface TextMessageGateway {
	send(text: OutgoingTextMessage): Promise<MailAnswer>;
}

const refusalSchema = z.object({ error: z.string().max(200) });

/**
 * Speaks to a gateway over HTTP: `POST {url}/texts` with a bearer key and JSON `{ reference, from, to, text, reportTo }`.
 * 2xx: taken. 408, 425, 429, 5xx: try later. Any other 4xx: refused, with `{ error }` in words. A connection that
 * breaks after the request went out leaves it unclear.
 * @param from the sender's number (E.164)
 * @param reportTo where the gateway posts what became of it
 */
export function httpTextMessageGateway(given: { url: string; key: string; from: string; reportTo: string }): TextMessageGateway {
	return {
		async send({ reference, to, words }) {
			let response: Response;
			try {
				response = await fetch(`${given.url.replace(/\/$/, '')}/texts`, {
					method: 'POST',
					headers: { 'content-type': 'application/json', authorization: `Bearer ${given.key}` },
					body: JSON.stringify({ reference, from: given.from, to, text: words, reportTo: given.reportTo }),
					redirect: 'error',
					signal: AbortSignal.timeout(20_000)
				});
			} catch (error) {
				const code = ((error as Error).cause as { code?: string } | undefined)?.code ?? (error as Error).name;
				const reason = `no answer from the text gateway (${code})`;
				const notReached = ['ECONNREFUSED', 'ENOTFOUND', 'EAI_AGAIN', 'EHOSTUNREACH', 'ENETUNREACH', 'UND_ERR_CONNECT_TIMEOUT'].includes(code);
				return { outcome: notReached ? 'try_later' : 'unclear', reason };
			}
			const { status } = response;
			if (response.ok) return { outcome: 'sent' };
			if (status >= 500 || [408, 425, 429].includes(status)) return { outcome: 'try_later', reason: `the text gateway answered ${status}` };
			const refusal = refusalSchema.safeParse(await response.json().catch(() => null));
			return { outcome: 'refused', reason: refusal.success ? refusal.data.error : `the text gateway answered ${status}` };
		}
	};
}

/** The signature of a body between us and the gateway: HMAC-SHA-256 (RFC 2104) in hex, in the header `x-signature`. */
export function signBody(body: string, key: string): string {
	return createHmac('sha256', key).update(body).digest('hex');
}

/** Whether a body came from somebody who has the key. */
export function isSigned(body: string, signature: string | null, key: string): boolean {
	const expected = Buffer.from(signBody(body, key));
	const given = Buffer.from(signature ?? '');
	return expected.length === given.length && timingSafeEqual(expected, given);
}
