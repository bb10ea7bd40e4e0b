import { randomUUID } from 'node:crypto';
import { mkdir, readFile, rename, writeFile } from 'node:fs/promises';
import { createServer } from 'node:http';
import { join } from 'node:path';
import { z } from 'zod';
import { meaningOfAnswer } from '$lib/core/messages/text-message';
import { signBody, type OutgoingTextMessage } from './text-message-gateway';
import { bodyOf, listenOnLoopback } from '../listen-on-loopback';

export interface TextMessageStandin {
	port: number;
	/** waits until every report and answer under way has been handed over */
	settled(): Promise<void>;
	close(): Promise<void>;
}

const outgoing = z.object({
	reference: z.uuid(),
	from: z.string(),
	to: z.string().regex(/^\+[1-9][0-9]{6,14}$/),
	text: z.string().min(1).max(1600),
	reportTo: z.url()
});
const kept = outgoing.pick({ reference: true, to: true, text: true });
export type KeptTextMessage = z.infer<typeof kept>;

const answer = z.object({ text: z.string().min(1).max(1600) });

/**
 * A small text gateway for the demo and the tests: takes messages over HTTP, keeps them as files and delivers nothing.
 * Numbers that end in 99 are refused; those that end in 98 are taken and then reported as failed; all others are
 * reported as delivered. `POST /phones/{number}/says` lets a phone answer, which is handed on to `answersTo`; after
 * STOP a number is refused until it says START.
 */
export async function startTextMessageStandin(options: {
	port: number;
	folder: string;
	key: string;
	answersTo: string;
}): Promise<TextMessageStandin> {
	const underWay = new Set<Promise<unknown>>();
	const stopped = new Set<string>();
	await mkdir(options.folder, { recursive: true });

	const post = (url: string, message: unknown) => {
		const body = JSON.stringify(message);
		const posted = fetch(url, {
			method: 'POST',
			body,
			headers: { 'content-type': 'application/json', 'x-signature': signBody(body, options.key) }
		})
			.catch(() => undefined)
			.finally(() => underWay.delete(posted));
		underWay.add(posted);
	};

	async function take(path: string, body: string): Promise<{ status: number; say: object }> {
		if (path === '/texts') {
			const parsed = outgoing.safeParse(JSON.parse(body));
			if (!parsed.success) return { status: 400, say: { error: 'the message is not as it should be' } };
			const text = parsed.data;
			if (stopped.has(text.to)) return { status: 422, say: { error: 'this number has asked for no more messages' } };
			if (text.to.endsWith('99')) return { status: 422, say: { error: 'this number cannot get messages' } };
			await keepText(options.folder, { ...text, words: text.text });
			const failed = text.to.endsWith('98');
			post(text.reportTo, {
				reference: text.reference,
				status: failed ? 'failed' : 'delivered',
				...(failed ? { reason: 'the phone could not be reached' } : {})
			});
			return { status: 202, say: { reference: text.reference } };
		}
		const phone = /^\/phones\/(\+\d+)\/says$/.exec(path)?.[1];
		if (!phone) return { status: 404, say: { error: 'there is no such address' } };
		const { text } = answer.parse(JSON.parse(body));
		const meaning = meaningOfAnswer(text);
		if (meaning === 'stop') stopped.add(phone);
		if (meaning === 'start') stopped.delete(phone);
		post(options.answersTo, { id: randomUUID(), from: phone, text });
		return { status: 202, say: {} };
	}

	const server = createServer(async (request, response) => {
		const reply = (status: number, say: object) => response.writeHead(status, { 'content-type': 'application/json' }).end(JSON.stringify(say));
		if (request.headers.authorization !== `Bearer ${options.key}`) return reply(401, { error: 'wrong key' });
		try {
			const { status, say } = await take(decodeURIComponent(request.url ?? ''), (await bodyOf(request)).toString('utf8'));
			reply(status, say);
		} catch {
			reply(400, { error: 'the message cannot be read' });
		}
	});
	const port = await listenOnLoopback(server, options.port);
	return {
		port,
		settled: async () => void (await Promise.all(underWay)),
		close: () => new Promise((resolve) => server.close(() => resolve()))
	};
}

function standinFile(folder: string, reference: string): string {
	return join(folder, `${reference}.json`);
}

/** Keeps a text message as the stand-in does. */
export async function keepText(folder: string, { reference, to, words }: OutgoingTextMessage): Promise<void> {
	await mkdir(folder, { recursive: true });
	const file = standinFile(folder, reference);
	await writeFile(`${file}.partial`, JSON.stringify({ reference, to, text: words }));
	await rename(`${file}.partial`, file);
}

/** What the stand-in received for one of our messages, or null. */
export async function receivedTextMessage(folder: string, reference: string): Promise<KeptTextMessage | null> {
	const raw = await readFile(standinFile(folder, reference), 'utf8').catch(() => null);
	return raw === null ? null : kept.parse(JSON.parse(raw));
}

/** Lets a phone answer: what the stand-in hands on to us as if it came from the network. */
export async function answerAsPhone(gateway: { url: string; key: string }, phone: string, text: string): Promise<void> {
	const response = await fetch(`${gateway.url}/phones/${encodeURIComponent(phone)}/says`, {
		method: 'POST',
		body: JSON.stringify({ text }),
		headers: { authorization: `Bearer ${gateway.key}` }
	});
	if (!response.ok) throw new Error(`the text stand-in answered ${response.status}`);
}
