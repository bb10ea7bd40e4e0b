import { createServer, type AddressInfo, type Server, type Socket } from 'node:net';
import { afterEach, describe, expect, test } from 'vitest';
import { smtpMailer, type OutgoingMail } from './mailer';

const MAIL: OutgoingMail = {
	from: { name: 'Firm', address: 'office@firm.example' },
	returnPath: 'bounce@firm.example',
	replyTo: null,
	to: { name: 'Mara', address: 'mara@gull.example' },
	subject: 'Hello',
	text: 'Hello.',
	html: '<p>Hello.</p>',
	messageId: 'one@firm.example',
	inReplyTo: null,
	unsubscribeUrl: null,
	date: new Date('2026-05-04T12:00:00Z'),
	reportDelivery: false,
	attachments: []
};
const STEPS = ['connect', 'EHLO', 'MAIL', 'RCPT', 'DATA', 'message'] as const;
type Step = (typeof STEPS)[number];

const open: { server: Server; sockets: Set<Socket> }[] = [];
afterEach(() => {
	for (const { server, sockets } of open.splice(0)) {
		for (const socket of sockets) socket.destroy();
		server.close();
	}
});

/** A mail server that breaks off at a step, before its answer or just after it; `message` is the final dot. */
async function faulty(at: Step | null, when: 'before' | 'after' | 'silent'): Promise<{ url: string; taken: () => number }> {
	let taken = 0;
	const sockets = new Set<Socket>();
	const server = createServer((socket) => {
		sockets.add(socket);
		socket.on('error', () => undefined);
		let data = false;
		let rest = '';
		const step = (name: Step, answer: string) => {
			if (name === at && when === 'silent') return;
			if (name === at && when === 'before') return void socket.destroy();
			socket.write(`${answer}\r\n`, () => name === at && when === 'after' && socket.destroy());
		};
		step('connect', '220 ready');
		socket.on('data', (chunk) => {
			rest += chunk.toString('latin1');
			for (;;) {
				const end = data ? rest.indexOf('\r\n.\r\n') : rest.indexOf('\r\n');
				if (end < 0) return;
				const line = rest.slice(0, end);
				rest = rest.slice(end + (data ? 5 : 2));
				if (data) {
					data = false;
					taken++;
					step('message', '250 taken');
				} else if (/^(EHLO|HELO)/.test(line)) step('EHLO', '250 hello');
				else if (line.startsWith('MAIL')) step('MAIL', '250 ok');
				else if (line.startsWith('RCPT')) step('RCPT', '250 ok');
				else if (line.startsWith('DATA')) {
					data = true;
					step('DATA', '354 go on');
				} else socket.write('250 ok\r\n');
			}
		});
	});
	open.push({ server, sockets });
	await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
	return { url: `smtp://127.0.0.1:${(server.address() as AddressInfo).port}?ignoreTLS=true`, taken: () => taken };
}

describe('a connection that breaks', () => {
	for (const step of STEPS)
		for (const when of ['before', 'after'] as const)
			for (const size of ['small', 'large'] as const)
				test(`${when} the answer to ${step}, a ${size} message: what may have arrived is not sent again, what cannot have is`, async () => {
					const { url, taken } = await faulty(step, when);
					const mailer = smtpMailer(url, { answerTimeoutMs: 2000 });
					const { outcome } = await mailer.send(size === 'small' ? MAIL : { ...MAIL, text: 'Hello.\n'.repeat(60_000) });
					mailer.close();
					if (step === 'message' && when === 'after') expect(outcome).toBe('sent');
					else if (taken() > 0) expect(outcome).toBe('unclear');
					// after 354 all of a small message may be on its way already
					else if (step === 'DATA' && when === 'after') expect(['unclear', 'try_later']).toContain(outcome);
					else expect(outcome).toBe('try_later');
				});

	test('a server that answers too late, after it has taken the message, leaves it unclear', async () => {
		const { url, taken } = await faulty('message', 'silent');
		const mailer = smtpMailer(url, { answerTimeoutMs: 300 });
		expect(await mailer.send(MAIL)).toMatchObject({ outcome: 'unclear' });
		expect(taken()).toBe(1);
		mailer.close();
	});
	test('a server that is silent before it has taken anything is tried again', async () => {
		const { url } = await faulty('MAIL', 'silent');
		const mailer = smtpMailer(url, { answerTimeoutMs: 300 });
		expect(await mailer.send(MAIL)).toMatchObject({ outcome: 'try_later' });
		mailer.close();
	});
	test('signed mail is told apart in the same way', async () => {
		const { generateKeyPairSync } = await import('node:crypto');
		const privateKey = generateKeyPairSync('rsa', { modulusLength: 1024 }).privateKey.export({ type: 'pkcs8', format: 'pem' }).toString();
		const dkim = { domain: 'firm.example', selector: 's', privateKey };
		for (const [step, outcome] of [
			['RCPT', 'try_later'],
			['message', 'unclear']
		] as const) {
			const mailer = smtpMailer((await faulty(step, 'before')).url, { dkim, answerTimeoutMs: 2000 });
			expect(await mailer.send(MAIL), step).toMatchObject({ outcome });
			mailer.close();
		}
	});
});
