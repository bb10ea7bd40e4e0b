import { Readable } from 'node:stream';
import { createTransport } from 'nodemailer';
import type { AppContext } from '../src/lib/server/context/app-context';
import type { Actor } from '../src/lib/server/actor';
import { machine } from '../src/lib/server/actor';
import { fileByItself, keepArrival, noteArrival, takeInArrival } from '../src/lib/server/papers/arrivals';
import { readPaper } from '../src/lib/server/statements/read-paper';
import { papersAddress } from '../src/lib/core/arrivals/incoming-mail';
import { ruleWords } from '../src/lib/core/arrivals/keeping-rules';
import { makeKeepingRule } from '../src/lib/server/papers/filing-rules';
import { takeInMail } from '../src/lib/server/papers/papers-by-mail';
import type { QuestionStage } from './questionnaires';
import { demoScan, demoStatement } from './demo-papers';

type ArrivalStage = Pick<QuestionStage, 'firmId' | 'at' | 'on' | 'as' | 'inFirm' | 'clientOf'> & {
	context: Pick<AppContext, 'db' | 'papers' | 'pdf'>;
};

/** What clients sent without being asked, when, what stands in it, and what they said of it. */
const ARRIVALS: readonly { day: string; time: string; client: string; name: string; bank: string; title: string; note: string }[] = [
	{
		day: '2026-05-01',
		time: '19:20',
		client: 'The Copper Thimble',
		name: 'scan0012.pdf',
		bank: 'Provincial Revenue Office',
		title: 'Notice of assessment',
		note: 'This came by post. Do I have to do anything?'
	},
	{
		day: '2026-05-03',
		time: '17:05',
		client: 'Foxglove Boatyard',
		name: 'insurance renewal.pdf',
		bank: 'Tideline Insurance',
		title: 'Renewal of the policy for the slipway',
		note: ''
	},
	{
		day: '2026-05-03',
		time: '20:48',
		client: 'Heron & Pike Anglers',
		name: 'bank statement 0430.pdf',
		bank: 'Harbour Union',
		title: 'Account 0020 447710, 1 April to 30 April 2026',
		note: ''
	}
];

/** What one client sends every month: the first was kept by hand, with the word that it may go by itself from then on. */
const REGULAR: readonly { day: string; time: string; name: string; allowed?: true }[] = [
	{ day: '2026-04-02', time: '18:10', name: 'fuel slips march.pdf', allowed: true },
	{ day: '2026-05-01', time: '17:30', name: 'fuel slips april.pdf' }
];

const DOMAIN = 'papers.pennywhistle.example';
/** What came by mail: from whom, if it is nobody of the client, and what it brought. */
const MAILS: readonly {
	day: string;
	time: string;
	client: string;
	from?: { name: string; address: string };
	subject: string;
	words: string;
	files: readonly (readonly [name: string, bank: string, title: string])[];
}[] = [
	{
		day: '2026-05-03',
		time: '21:10',
		client: 'The Copper Thimble',
		subject: 'Till reports and the new lease',
		words: 'Hello Odalys,\n\nhere are the reports of the till for April, and the lease that we signed on Friday.\n\nGood night!',
		files: [
			['till april.csv', '', ''],
			['lease signed.pdf', 'Rope Walk Estates', 'Lease of the shop, from 1 June 2026']
		]
	},
	{
		day: '2026-05-03',
		time: '21:40',
		client: 'Foxglove Boatyard',
		from: { name: 'Accounts', address: 'accounts@ropewalkchandlery.example' },
		subject: 'Your open invoices',
		words: 'Please find attached the invoices that are due.',
		files: [
			['invoice 20418.pdf', 'Rope Walk Chandlery', 'Invoice 20418'],
			['invoice 20455.pdf', 'Rope Walk Chandlery', 'Invoice 20455']
		]
	}
];
const TILL = 'day,cash,card\n2026-04-01,412.50,1180.20\n2026-04-02,388.00,1034.75\n2026-04-03,0.00,0.00\n';

/** Seven unlike files without a place: one that says where it belongs, one with a word of who sent it, one of which nothing is known; and two mails, one from somebody who is not known. */
export function playArrivals({ context, firmId, at, on, as, inFirm, clientOf }: ArrivalStage): void {
	const senderOf = async (client: { contact: string }): Promise<Actor> => {
		const contact = await inFirm(firmId, (tx) => tx.first<{ name: string }>('select name from contact where id = $1', [client.contact]));
		return { ...as('odalys'), kind: 'contact', id: client.contact, name: contact!.name, role: null };
	};
	for (const [n, { day, time, name, allowed }] of REGULAR.entries())
		at(on(day), time, async () => {
			const client = await clientOf('Foxglove Boatyard');
			if (!client) return;
			const content = Readable.from([await demoStatement('Fuel of the month', 'Foxglove Boatyard', 40 + n, 'Harbour Fuel')]);
			const { id } = await takeInArrival(context, firmId, await senderOf(client), { clientId: client.id, name, content });
			await readPaper(context, firmId, id);
			await inFirm(firmId, async (tx) => {
				if (!allowed) return void (await fileByItself(tx, machine(as('odalys').now), id));
				await keepArrival(tx, as('odalys'), id, { name: 'Bills and receipts' });
				await makeKeepingRule(tx, as('odalys'), { paperId: id, words: ruleWords(name) });
			});
		});
	for (const [n, arrival] of ARRIVALS.entries())
		at(on(arrival.day), arrival.time, async () => {
			const client = await clientOf(arrival.client);
			if (!client) return;
			const sender = await senderOf(client);
			const content = Readable.from([
				arrival.name === 'scan0012.pdf' ? await demoScan(arrival.client) : await demoStatement(arrival.title, arrival.client, 20 + n, arrival.bank)
			]);
			const { id } = await takeInArrival(context, firmId, sender, { clientId: client.id, name: arrival.name, content });
			if (arrival.note) await inFirm(firmId, (tx) => noteArrival(tx, sender, { paperId: id, note: arrival.note }), client.contact);
			await readPaper(context, firmId, id);
		});
	for (const [n, mail] of MAILS.entries())
		at(on(mail.day), mail.time, async () => {
			const client = await clientOf(mail.client);
			if (!client) return;
			const known = await inFirm(firmId, (tx) =>
				tx.first<{ key: string; name: string; address: string }>(
					'select c.mail_key "key", p.name, p.email address from client c, contact p where c.id = $1 and p.id = $2',
					[client.id, client.contact]
				)
			);
			const { address, name } = mail.from ?? known!;
			const attachments = [];
			for (const [filename, bank, title] of mail.files)
				attachments.push({ filename, content: bank ? Buffer.from(await demoStatement(title, mail.client, 30 + n, bank)) : TILL });
			const { message } = await createTransport({ streamTransport: true, buffer: true }).sendMail({
				from: { name, address },
				to: papersAddress(known!.key, DOMAIN),
				subject: mail.subject,
				text: mail.words,
				attachments
			});
			await takeInMail({ ...context, domain: DOMAIN }, as('odalys').now, {
				to: papersAddress(known!.key, DOMAIN),
				returnPath: address,
				content: Readable.from([message]),
				tooLarge: () => false
			});
			const papers = await inFirm(firmId, (tx) =>
				tx.rows<{ id: string }>('select id from paper where client_id = $1 and mail_id is not null', [client.id])
			);
			for (const { id } of papers) await readPaper(context, firmId, id);
		});
}
