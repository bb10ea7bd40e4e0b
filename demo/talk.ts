import { randomUUID } from 'node:crypto';
import { Readable } from 'node:stream';
import { createTransport } from 'nodemailer';
import type { AppContext } from '../src/lib/server/context/app-context';
import type { Actor } from '../src/lib/server/actor';
import { sayAway } from '../src/lib/server/chasing/holds';
import { chooseOwnTimes } from '../src/lib/server/chasing/their-times';
import { loadFirm } from '../src/lib/server/firms/firm';
import { replyTo } from '../src/lib/server/messages/links';
import { takeIn } from '../src/lib/server/talk/answers-by-mail';
import { writeNote } from '../src/lib/server/talk/notes';
import { writeWords } from '../src/lib/server/talk/words';
import type { QuestionStage } from './questionnaires';

type TalkStage = Pick<QuestionStage, 'firmId' | 'secretKey' | 'at' | 'on' | 'as' | 'inFirm' | 'clientOf'> & {
	context: Pick<AppContext, 'db' | 'papers'>;
	origin: string;
};

const DOMAIN = 'papers.pennywhistle.example';
/** What came in answer to the last mail to a client's first person. */
const ANSWERS: readonly {
	day: string;
	time: string;
	client: string;
	/** somebody who is not known */ from?: { name: string; address: string };
	subject: string;
	words: string;
	/** a program wrote it */ automatic?: true;
}[] = [
	{
		day: '2026-05-01',
		time: '16:10',
		client: 'Driftline Surf School',
		subject: 'Re: Your bookkeeping papers',
		words:
			'Hello Odalys,\n\nour old till was swapped on Thursday, and its figures come from the maker. Is a photo of the roll enough until then?\n\nSent from my phone\n\n> On 1 May 2026, at 11:20, Pennywhistle Row Bookkeeping <office@pennywhistle.example> wrote:\n> Please send us what you have.'
	},
	{
		day: '2026-05-04',
		time: '07:50',
		client: 'Driftline Surf School',
		subject: 'Re: Your bookkeeping papers',
		words:
			'Thank you! The maker says Wednesday. May I send it all together then?\n\nOn Fri, 1 May 2026 at 16:40, Odalys Fenwick <office@pennywhistle.example> wrote:\n> A photo is enough for now.'
	},
	{
		day: '2026-05-04',
		time: '08:05',
		client: 'Ferry Café',
		subject: 'Automatic reply: Still open for Ferry Café',
		words: 'I am away with the ferry until Friday, 15 May 2026, and read no mail. Abel is at the café.',
		automatic: true
	},
	{
		day: '2026-05-03',
		time: '19:30',
		client: 'Heron & Pike Anglers',
		from: { name: 'Salome P.', address: 'salome.pike@postbox.example' },
		subject: 'Re: Your papers for April 2026',
		words: 'This is my private address, the other one is full. The harbour sent its bill: shall I pass it on?'
	}
];
/** Who said on their page that they are away, when, and until when. */
const AWAY = { day: '2026-05-02', time: '10:15', client: 'Cinder Hill Pottery', until: '2026-05-19' } as const;

/** Who said on their page when they may be written to. */
const TIMES = {
	day: '2026-05-01',
	time: '12:05',
	client: 'Harbour Light Electrics',
	times: { timeZone: 'America/Vancouver', from: null, to: null, quietDays: [3], perWeek: 1 }
} as const;

/** What the firm noted among itself, beside an item or in the talk with a client's first person. */
const NOTES: readonly { day: string; time: string; by: 'odalys' | 'imre'; client: string; item?: string; words: string }[] = [
	{
		day: '2026-04-22',
		time: '09:12',
		by: 'odalys',
		client: 'Gull & String Kites',
		item: 'Last year’s final accounts',
		words: 'The old accountant is Quillfeather & Co., slow with everybody. @Imre, could you call them on Friday if nothing came?'
	},
	{
		day: '2026-04-24',
		time: '15:20',
		by: 'imre',
		client: 'Gull & String Kites',
		item: 'Last year’s final accounts',
		words: 'Rang twice, nobody there until Monday. @Odalys, shall we ask Mara for her own copy instead?'
	},
	{
		day: '2026-05-01',
		time: '16:45',
		by: 'odalys',
		client: 'Driftline Surf School',
		words: 'The new till prints other reports. @Ferrin, do they fit what we ask for every month?'
	}
];

/** A talk by mail that holds a reminder, an answer from an address that nobody knows, a program that says somebody is away, and somebody who says so; somebody who says when they may be written to. */
export function playTalk({ context, firmId, secretKey, origin, at, on, as, inFirm, clientOf }: TalkStage): void {
	const personOf = async (client: { contact: string }) =>
		(await inFirm(firmId, (tx) =>
			tx.first<{ name: string; address: string }>('select name, email address from contact where id = $1', [client.contact])
		))!;
	for (const { day, time, client: name, from, subject, words, automatic } of ANSWERS)
		at(on(day), time, async () => {
			const client = await clientOf(name);
			if (!client) return;
			const person = await personOf(client);
			const message = await inFirm(firmId, (tx) =>
				tx.first<{ id: string }>(
					`select id from message where contact_id = $1 and channel = 'email' and state = 'sent' and kind in ('request', 'chase', 'remark')
					order by sent_at desc, id limit 1`,
					[client.contact]
				)
			);
			if (!message) return;
			const { name: sender, address } = from ?? person;
			const to = replyTo(message.id, DOMAIN, secretKey);
			const mail = await createTransport({ streamTransport: true, buffer: true }).sendMail({
				from: { name: sender, address },
				to,
				subject,
				text: words,
				...(automatic ? { headers: { 'Auto-Submitted': 'auto-replied' } } : {})
			});
			await takeIn({ ...context, domain: DOMAIN, secretKey, origin }, as('odalys').now, {
				to,
				returnPath: address,
				content: Readable.from([mail.message]),
				tooLarge: () => false
			});
		});
	at(on('2026-05-01'), '16:40', async () => {
		const client = await clientOf(ANSWERS[0].client);
		if (!client) return;
		await inFirm(firmId, (tx) =>
			writeWords(tx, as('odalys'), {
				clientId: client.id,
				contactId: client.contact,
				words: 'A photo is enough for now. Please keep the roll.',
				idempotencyKey: randomUUID()
			})
		);
	});
	for (const { day, time, by, client: name, item: title, words } of NOTES)
		at(on(day), time, async () => {
			const client = await clientOf(name);
			if (!client) return;
			await inFirm(firmId, async (tx) => {
				const item = title
					? await tx.first<{ id: string }>('select id from item where client_id = $1 and title = $2 order by asked_on limit 1', [client.id, title])
					: null;
				if (item) await writeNote(tx, as(by), { itemId: item.id, words });
				else if (!title) await writeNote(tx, as(by), { clientId: client.id, contactId: client.contact, words });
			});
		});
	at(on(TIMES.day), TIMES.time, async () => {
		const client = await clientOf(TIMES.client);
		if (!client) return;
		const { name } = await personOf(client);
		const actor: Actor = { ...as('odalys'), kind: 'contact', id: client.contact, name, role: null };
		await inFirm(firmId, async (tx) => chooseOwnTimes(tx, actor, await loadFirm(tx), { times: TIMES.times, asRead: '' }), client.contact);
	});
	at(on(AWAY.day), AWAY.time, async () => {
		const client = await clientOf(AWAY.client);
		if (!client) return;
		const { name } = await personOf(client);
		const actor: Actor = { ...as('odalys'), kind: 'contact', id: client.contact, name, role: null };
		await inFirm(firmId, async (tx) => sayAway(tx, actor, await loadFirm(tx), AWAY.until), client.contact);
	});
}
