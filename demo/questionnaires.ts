import { Readable } from 'node:stream';
import { randomUUID } from 'node:crypto';
import { READY_MADE_QUESTIONNAIRES } from '../src/lib/core/questionnaires/ready-made';
import type { End } from '../src/lib/core/items/brings';
import type { RequestLine } from '../src/lib/core/requests/request-list';
import { fillText } from '../src/lib/core/letters/merge-fields';
import { say } from '../src/lib/words/words';
import type { AppContext } from '../src/lib/server/context/app-context';
import type { Actor } from '../src/lib/server/actor';
import { askBackAnswers } from '../src/lib/server/item-kinds/kinds/answer-review';
import { answerQuestionnaire } from '../src/lib/server/item-kinds/kinds/questionnaire';
import { keepTyped } from '../src/lib/server/items/client-item';
import { addQuestionnaire, copyForNextYear, questionnaireChoices } from '../src/lib/server/library/questionnaires';
import type { Tx } from '../src/lib/server/platform/db/database';
import { findOpenPage, openingOf, takePublicAnswer } from '../src/lib/server/public-pages/answer-page';
import { takePublicFile } from '../src/lib/server/public-pages/public-files';
import { openPublicPage } from '../src/lib/server/public-pages/pages';
import { acceptItem } from '../src/lib/server/requests/judge-item';
import { sealAnswers } from '../src/lib/server/signing/sign-answers';
import { sendRequest } from '../src/lib/server/requests/send-request';
import { demoStatement } from './demo-papers';
import type { StaffKey } from './scenario';

const TRADER = {
	does: 'We lift what lies on the harbour floor: anchors, chains, a piano once.',
	trade_name: 'no',
	since: '2019-03-01',
	address: '4 Slipway Lane, Gullhaven',
	home: 'no',
	vehicle: 'one for work only',
	job: 'no',
	kept: 'I do',
	software: 'A spreadsheet',
	year_end: '12-31',
	method: 'cash',
	accounts: '2',
	accounts_private: 'no',
	money_in: ['bank transfer', 'cheque'],
	sales: '184,000',
	loans: 'yes',
	loans_which: '[{"with":"Harbour Union","for":"the crane boat","until":"2029-06-30"}]',
	stock: 'no',
	sales_tax: 'yes',
	sales_tax_number: '81 204 773',
	sales_tax_often: 'quarterly',
	behind: 'no',
	staff: 'yes',
	staff_many: '2',
	staff_paid: 'every two weeks',
	freelance: 'no',
	expect: 'That somebody tells us before a letter comes, not after.',
	reach: 'by phone'
};
const POTTER = {
	...TRADER,
	does: 'Bowls, jugs and tiles, thrown and glazed here; two markets a month and a shop online.',
	since: '2021-09-01',
	address: '19 Cinder Hill, Gullhaven',
	home: 'yes',
	home_part: '35',
	vehicle: 'my own, also privately',
	vehicle_log: 'yes',
	money_in: ['cash', 'card at the till', 'an online shop or platform'],
	platforms: 'Claywork Market, and our own shop.',
	sales: '61,500',
	loans: 'no',
	stock: 'yes',
	stock_counted: '2025-12-31',
	sales_tax: 'no',
	staff: 'no',
	expect: 'Less paper on the kitchen table.',
	reach: 'by e-mail'
};
const YEAR_2024 = {
	moved: 'no',
	status: 'with a partner',
	status_since: 'no',
	children: '[{"name":"Linnea Tamarack","born":"2019-11-04","lives":"all_year"}]',
	care: 'yes',
	income: ['work on my own account', 'investments'],
	sold: 'no',
	abroad: 'no',
	costs: ['medical costs', 'work from home'],
	medical: 'Glasses for Linnea, about 300.',
	home_days: '210',
	paid_ahead: 'yes',
	letters: 'no',
	account: 'yes'
};
/** Who of the clients answered the three questions, and how. */
const FEEDBACK: readonly [client: string, answers: Record<string, string>][] = [
	['Rope Walk Chandlery', { how: 'very well', better: 'Nothing. It runs.', talk: 'no' }],
	['Barnacle Books', { how: 'very well', talk: 'no' }],
	['Half Moon Bicycle Hire', { how: 'well', better: 'Ask for statements earlier in the month.', talk: 'no' }],
	['Nine Elms Nursery', { how: 'well', better: 'I never know which of you to write to.', talk: 'yes' }],
	['Lantern Street Players', { how: 'so-so', better: 'A month without shows should not need an answer.', talk: 'yes' }]
];

/** What somebody of the firm has to do if a question is answered by yes. */
const FOLLOWS: Readonly<Record<string, Readonly<Record<string, string>>>> = {
	'sole-trader': { stock: 'Look at how the stock is counted', vehicle_log: 'Ask for the log of the vehicle' },
	household: { paid_ahead: 'Enter what was paid ahead' }
};
/** What somebody has to do of every one of them, and of some. */
const AT_THE_END: readonly End[] = [
	{ key: 'call', what: { does: 'task', words: 'Call them, and plan the first month together', staffId: null } },
	{
		key: 'payroll',
		condition: {
			kind: 'all',
			of: [
				{ kind: 'answer', question: 'staff', is: 'equals', value: 'yes' },
				{ kind: 'service', is: 'has_not', name: 'Payroll' }
			]
		},
		what: { does: 'service', name: 'Payroll' }
	}
];
/** Who wrote on the public page, when, and what: one whom nobody knows and who asked for a copy, one who may be somebody known. */
const ENQUIRIES: readonly { day: string; time: string; confirmed: boolean; answers: Record<string, string | string[]> }[] = [
	{
		day: '2026-05-01',
		time: '21:15',
		confirmed: true,
		answers: {
			form: 'a sole trader',
			need: ['bookkeeping', 'putting old books in order'],
			behind: '14',
			sales: '48,000',
			words: 'I blow glass, and I have kept every receipt. They are in a drawer.',
			'visitor.name': 'Wren Castellan',
			'visitor.email': 'wren@saltglass.example',
			'visitor.business': 'Saltglass Studio',
			'visitor.phone': '613 555 0182'
		}
	},
	{
		day: '2026-05-03',
		time: '10:40',
		confirmed: false,
		answers: {
			form: 'a company',
			need: ['payroll'],
			words: 'We open a second shop in September.',
			'visitor.name': 'Ines Farrow',
			'visitor.email': 'ines@barnacle.example',
			'visitor.business': 'Barnacle Books Ltd'
		}
	}
];

/** Where the scenario is played. */
export interface QuestionStage {
	context: Parameters<typeof sendRequest>[0] & Pick<AppContext, 'limits' | 'papers'>;
	firmId: string;
	secretKey: string;
	at(day: string, time: string, run: () => Promise<void>): void;
	on(day: string): string;
	as(key: StaffKey): Actor;
	inFirm<T>(firmId: string, work: (tx: Tx) => Promise<T>, contactId?: string): Promise<T>;
	clientOf(name: string): Promise<{ id: string; contact: string } | null>;
}

/** Four questionnaires in use: one that is answered and asked back in part, one by year whose answers were confirmed and signed, one of three questions to many, one on a public page. */
export function playQuestionnaires({ context, firmId, secretKey, at, on, as, inFirm, clientOf }: QuestionStage): void {
	const ids = new Map<string, string>();
	const items = new Map<string, string>();

	at(on('2026-03-02'), '16:20', () =>
		inFirm(firmId, async (tx) => {
			const known = new Map((await questionnaireChoices(tx)).map(({ name, id }) => [name, id]));
			for (const key of ['sole-trader', 'household', 'feedback']) {
				const ready = READY_MADE_QUESTIONNAIRES.find(({ id }) => id === key)!.of('CAD', Number(on('2026-03-02').slice(0, 4)) - 2);
				const brings = FOLLOWS[key] ?? {};
				const questions = ready.questions.map((question) =>
					question.key in brings
						? {
								...question,
								brings: [
									{
										key: 'follows',
										when: { is: 'equals' as const, value: 'yes' },
										what: { does: 'task' as const, words: brings[question.key], staffId: as('imre').id! }
									}
								]
							}
						: question
				);
				const written = { ...ready, questions, ends: key === 'sole-trader' ? [...AT_THE_END] : [], signed: key === 'household' };
				ids.set(key, known.get(ready.name) ?? (await addQuestionnaire(tx, as('odalys'), written)));
			}
		})
	);

	ask('Olive Tamarack, translator', 'household', '2026-04-13', 'Your year 2024');
	answer('Olive Tamarack, translator', 'household', '2026-04-15', YEAR_2024);
	accept('Olive Tamarack, translator', 'household', '2026-04-16');
	at(on('2026-04-20'), '10:10', () =>
		inFirm(firmId, async (tx) => {
			const before = ids.get('household')!;
			const next = await tx.first<{ id: string }>('select id from questionnaire where before_id = $1 and ended_at is null', [before]);
			ids.set('next year', next?.id ?? (await copyForNextYear(tx, as('odalys'), before)));
		})
	);
	ask('Olive Tamarack, translator', 'next year', '2026-04-21', 'Your year 2025');
	answer('Olive Tamarack, translator', 'next year', '2026-04-28', { ...YEAR_2024, home_days: '198', medical: 'Nothing out of the ordinary.' });
	accept('Olive Tamarack, translator', 'next year', '2026-04-29');

	for (const [client, answers] of FEEDBACK) {
		ask(client, 'feedback', '2026-04-15', 'Three questions about us', true);
		answer(client, 'feedback', '2026-04-17', answers);
	}

	ask('Tidewrack Salvage', 'sole-trader', '2026-04-22', 'About you and your business');
	answer('Tidewrack Salvage', 'sole-trader', '2026-04-28', TRADER);
	at(on('2026-04-29'), '15:35', async () => {
		const itemId = items.get('Tidewrack Salvage sole-trader');
		if (itemId)
			await inFirm(firmId, async (tx) =>
				askBackAnswers(tx, as('odalys'), {
					itemId,
					version: await versionOf(tx, itemId),
					words: { sales_tax_number: 'There is a digit missing: it has nine.', staff_many: 'Do you count yourself? Please leave yourself out.' }
				})
			);
	});
	ask('Cinder Hill Pottery', 'sole-trader', '2026-04-22', 'About you and your business');
	answer('Cinder Hill Pottery', 'sole-trader', '2026-05-01', POTTER);
	ask('Ferry Café', 'sole-trader', '2026-04-30', 'About you and your business');
	at(on('2026-05-02'), '20:40', async () => {
		const [client, itemId] = [await clientOf('Ferry Café'), items.get('Ferry Café sole-trader')];
		if (!client || !itemId) return;
		const fields = {
			'answer.does': 'Breakfast and soup for people who wait for the ferry.',
			'answer.trade_name': 'yes',
			'answer.trade_name_is': 'The Waiting Room'
		};
		await inFirm(
			firmId,
			async (tx) => keepTyped(tx, await contactOf(tx, client.contact), { itemId, device: 'demo', since: null, fields }),
			client.contact
		);
	});

	at(on('2026-04-24'), '16:05', () =>
		inFirm(firmId, async (tx) => {
			const ready = READY_MADE_QUESTIONNAIRES.find(({ id }) => id === 'enquiry')!.of('CAD', 2026);
			const known = new Map((await questionnaireChoices(tx)).map(({ name, id }) => [name, id]));
			const id = known.get(ready.name) ?? (await addQuestionnaire(tx, as('odalys'), ready));
			await openPublicPage(tx, as('odalys'), id, { name: 'new-clients', who: 'asked', thanks: '', sites: [] });
		})
	);
	for (const { day, time, confirmed, answers } of ENQUIRIES)
		at(on(day), time, async () => {
			const actor: Actor = { ...as('odalys'), kind: 'nobody', id: null, name: 'somebody', role: null };
			const page = await inFirm(firmId, (tx) => findOpenPage(tx, actor, 'new-clients'));
			const key = '00'.repeat(32);
			const opened = new Date(Date.parse(actor.now) - 240_000).toISOString();
			const typed = { ...answers, version: String(page.version), opening: openingOf(page.id, opened, key) };
			const receipt = await takePublicAnswer({ ...context, secretKey: key }, firmId, actor, { name: 'new-clients', typed, locale: 'en' });
			if (!confirmed) return;
			await inFirm(firmId, (tx) => tx.rows('update public_answer set confirmed_at = $2 where came_at = $1', [actor.now, actor.now]));
			const content = Readable.from([await demoStatement('Statement of the year 2024', String(answers['visitor.business']), 17)]);
			await takePublicFile(context, firmId, actor, { receipt, slot: 'last_return', name: 'Saltglass 2024.pdf', content });
		});

	function ask(name: string, questionnaire: string, day: string, title: string, acceptsItself = false): void {
		at(on(day), '11:25', async () => {
			const [client, id] = [await clientOf(name), ids.get(questionnaire)];
			if (!client || !id) return;
			const line: RequestLine = {
				key: 'questions',
				kind: 'questionnaire',
				title,
				heading: '',
				why: null,
				text: null,
				required: true,
				acceptsItself,
				attachments: [],
				each: null,
				dueOn: on('2026-05-12'),
				account: null,
				spec: { questions: [], files: false, signed: false, ends: [], from: { id, name: title, version: 1, before: null } }
			};
			const request = await sendRequest(context, firmId, as('odalys'), {
				clientId: client.id,
				contactId: client.contact,
				others: [],
				each: false,
				title,
				message: fillText(say('en', 'mail.request.body', { client: name }), {}),
				quiet: false,
				tellNow: false,
				withInvitation: false,
				idempotencyKey: randomUUID(),
				list: null,
				lines: [line]
			});
			const item = await inFirm(firmId, (tx) => tx.first<{ id: string }>('select id from item where request_id = $1', [request]));
			items.set(`${name} ${questionnaire}`, item!.id);
		});
	}
	function answer(name: string, questionnaire: string, day: string, typed: Record<string, unknown>): void {
		at(on(day), '19:05', async () => {
			const [client, itemId] = [await clientOf(name), items.get(`${name} ${questionnaire}`)];
			if (!client || !itemId) return;
			await inFirm(
				firmId,
				async (tx) => {
					const contact = await contactOf(tx, client.contact);
					const sign = { 'sign.consent': 'yes', 'sign.signature': JSON.stringify({ method: 'typed', name: contact.name }) };
					await answerQuestionnaire(tx, contact, { itemId, typed: { ...typed, ...sign } });
				},
				client.contact
			);
			const signed = await inFirm(firmId, (tx) => tx.rows<{ id: string }>('select id from signed_answers where item_id = $1', [itemId]));
			for (const { id } of signed) await sealAnswers({ ...context, secretKey }, firmId, id, as('odalys').now);
		});
	}
	function accept(name: string, questionnaire: string, day: string): void {
		at(on(day), '10:15', async () => {
			const itemId = items.get(`${name} ${questionnaire}`);
			if (itemId) await inFirm(firmId, async (tx) => acceptItem(tx, as('odalys'), { itemId, version: await versionOf(tx, itemId) }));
		});
	}
	async function versionOf(tx: Tx, itemId: string): Promise<number> {
		return (await tx.first<{ version: number }>('select version from item where id = $1', [itemId]))!.version;
	}
	async function contactOf(tx: Tx, id: string): Promise<Actor> {
		const contact = await tx.first<{ name: string }>('select name from contact where id = $1', [id]);
		return { kind: 'contact', id, name: contact!.name, role: null, now: as('odalys').now, ip: '203.0.113.79', userAgent: 'demo' };
	}
}
