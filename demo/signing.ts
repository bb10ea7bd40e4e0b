import { readCheckService } from '../src/lib/server/platform/identity-checks/terms';
import { randomUUID } from 'node:crypto';
import { Readable } from 'node:stream';
import type { LetterDocument } from '../src/lib/core/letters/letter-document';
import { PAYMENT_WORDS, READY_MADE_LETTER } from '../src/lib/core/letters/ready-made-letter';
import {
	asRequestLine,
	draftContentSchema,
	newLine,
	requestLineSchema,
	requestListSchema,
	type NewRequest,
	type RequestLine
} from '../src/lib/core/requests/request-list';
import type { Fee } from '../src/lib/core/letters/fees';
import { bankFormOf } from '../src/lib/core/signing/bank-accounts';
import { fieldsOf } from '../src/lib/core/signing/places';
import { readLetterPages } from '../src/lib/server/items/read-items';
import { USUAL_FEES } from './scenario';
import { partiesOf } from '../src/lib/core/signing/find-places';
import type { Signer } from '../src/lib/core/signing/signers';
import type { Actor } from '../src/lib/server/actor';
import { surveyAttachment, takeInAttachment } from '../src/lib/server/attachments/attachments';
import type { AppContext } from '../src/lib/server/context/app-context';
import { seeItem } from '../src/lib/server/items/client-item';
import { nameOutsideSigner } from '../src/lib/server/letters/outside-signers';
import { addList, readLists } from '../src/lib/server/library/request-lists';
import { countersignLetter } from '../src/lib/server/signing/countersign-letter';
import { letterGoesOn } from '../src/lib/server/requests/letter-goes-on';
import { sendRequest } from '../src/lib/server/requests/send-request';
import { declineLetter, noteLetterOpened, noteShownWhole, signLetter } from '../src/lib/server/signing/sign-letter';
import { demoAgreement } from './demo-papers';
import type { QuestionStage } from './questionnaires';

type SigningStage = QuestionStage & {
	/** of the product's addresses */ origin: string;
	context: Pick<AppContext, 'db' | 'papers' | 'pdf'>;
};

const COUPLE = 'Ferry Café';
/** Did the couple's returns until now, and gets a copy. */
const OUTSIDE = { name: 'Rhea Sandoval', email: 'rhea@sandovalbooks.example', phone: null };
const DECLINES = 'Dr. Pell, Travelling Vet';
/** Their letters wait for the firm. */
const WAITING = ['Brine & Barrow Oysters', 'Olive Tamarack, translator'];
const TERMS = 'Terms of the year end';
const YEAR_END = ['We prepare the final accounts and the return for 2025 for a fee of $1,900.', 'Extra work is agreed with you before it begins.'];
const SIDES = ['For the client', 'For Pennywhistle Row'];
/** The letter with its table of fees, and who gets it. */
const WITH_FEES = 'Engagement letter with fees and payment';
const [PAYS, IS_ASKED] = ['Brine & Barrow Oysters', DECLINES];
/** As they were written for these letters: what a firm takes over to practise with may have other services. */
const FEES = USUAL_FEES.map(([service, fee, every]): Fee => ({ service, amount: fee, every }));
/** An account that is nobody's, with the check digits of its country. */
const accountIn = (country: string) => ({
	routing: { US: '021000021', CA: '24680003', GB: '200000', AU: '062000' }[country] ?? '12345',
	account: bankFormOf(country) === 'iban' ? 'FR1420041010050500013M02606' : '5550132'
});
const FIRST_MONTH = ['Bank statement of May', 'Invoices you wrote in May', 'Bills you paid in May'];
const firstMonthLine = (title: string, dueOn: string) =>
	newLine({ key: randomUUID(), kind: 'paper', title, dueOn, dueBy: 'rule', due: { from: 'asked', offset: 5, unit: 'business_days', roll: 'none' } });
const ASKS = 'Here are the terms for your year end. Please read and sign them.';

/** A couple of whom one has signed, and a letter that somebody does not want to sign. */
export function playSigning({ context, firmId, secretKey, origin, at, on, as, inFirm, clientOf }: SigningStage): void {
	const items = new Map<string, string>();
	const person = async (name: string): Promise<{ client: string; actor: Actor } | null> => {
		const ids = await clientOf(name);
		if (!ids) return null;
		const contact = await inFirm(firmId, (tx) => tx.first<{ name: string }>('select name from contact where id = $1', [ids.contact]));
		return {
			client: ids.id,
			actor: { ...as('odalys'), kind: 'contact', id: ids.contact, name: contact!.name, role: null, ip: '203.0.113.77', userAgent: 'demo' }
		};
	};
	const goOn = async (itemId: string) => {
		const row = await inFirm(firmId, (tx) => tx.first<{ id: string }>('select letter_id id from letter_signer where item_id = $1', [itemId]));
		await letterGoesOn({ ...context, secretKey, origin }, firmId, row!.id, as('odalys').now);
	};

	const signs = async (itemId: string, actor: Actor) => {
		await inFirm(firmId, (tx) => noteShownWhole(tx, actor, itemId), actor.id!);
		await inFirm(
			firmId,
			(tx) => signLetter(tx, actor, { itemId, signature: { method: 'typed', name: actor.name }, consent: true }, secretKey),
			actor.id!
		);
	};

	function send(
		day: string,
		time: string,
		to: string,
		title: string,
		paragraphs: readonly string[],
		who: readonly string[],
		signers: Signer[],
		message: string
	) {
		at(on(day), time, async () => {
			const known = await person(to);
			if (!known?.actor.id) return;
			const file = await takeInAttachment(context, firmId, as('odalys'), {
				name: `${title}.pdf`,
				content: Readable.from([Buffer.from(await demoAgreement(title, paragraphs, who))])
			});
			const { pages, found } = await surveyAttachment(context, firmId, as('odalys'), file.id);
			for (const signer of signers)
				if (signer.who.as === 'outside') {
					const person = await inFirm(firmId, (tx) => nameOutsideSigner(tx, as('odalys'), { clientId: known.client, knownId: null, ...OUTSIDE }));
					signer.who = { as: 'contact', contactId: person.id };
				}
			// a practice workspace has no identity checks
			const check = await inFirm(firmId, readCheckService);
			for (const signer of signers) if (signer.by === 'link_check' && !check) signer.by = 'link_mail';
			const parties = partiesOf(
				found.map((place) => ({ ...place, document: 0 })),
				signers.filter(({ does }) => does === 'signs').length
			);
			const line: RequestLine = {
				kind: 'letter',
				key: randomUUID(),
				heading: '',
				title,
				why: null,
				required: true,
				acceptsItself: false,
				attachments: [],
				account: null,
				dueOn: on('2026-05-12'),
				document: READY_MADE_LETTER,
				values: {},
				spec: {
					signing: {
						lapseDays: 30,
						documents: [{ id: file.id, name: file.name, pages }],
						signers,
						places: found.map((place, n) => ({
							...place,
							document: 0,
							id: `place-${n}`,
							of: signers[parties[n]].key,
							required: true,
							help: '',
							onlyIf: null
						}))
					}
				}
			};
			const requestId = await sendRequest(context, firmId, as('odalys'), {
				clientId: known.client,
				contactId: known.actor.id,
				others: [],
				each: false,
				title,
				message,
				quiet: false,
				tellNow: false,
				withInvitation: false,
				idempotencyKey: randomUUID(),
				list: null,
				lines: [line]
			});
			const item = await inFirm(firmId, (tx) => tx.first<{ id: string }>('select id from item where request_id = $1', [requestId]));
			items.set(to, item!.id);
			await goOn(item!.id);
		});
	}
	function reads(day: string, time: string, name: string, does: (itemId: string, actor: Actor) => Promise<void>) {
		at(on(day), time, async () => {
			const [known, itemId] = [await person(name), items.get(name)];
			if (!known?.actor.id || !itemId) return;
			const { actor } = known;
			await inFirm(firmId, (tx) => seeItem(tx, actor, itemId), actor.id!);
			await inFirm(firmId, (tx) => noteLetterOpened(tx, actor, itemId), actor.id!);
			await does(itemId, actor);
			await goOn(itemId);
		});
	}

	send(
		'2026-04-27',
		'14:20',
		COUPLE,
		'Consent to one return for both',
		[
			'We ask Pennywhistle Row to prepare and file one return for both of us for the year 2025.',
			'Each of us has seen the figures of the other and agrees that they are used for it.',
			'Each of us may end this consent in writing, for the years that are not filed yet.'
		],
		['Juno Thorne', 'Abel Thorne', 'For Pennywhistle Row'],
		[
			{ key: 'a', who: { as: 'first' }, does: 'signs', rank: 1 },
			{ key: 'b', who: { as: 'second' }, does: 'signs', rank: 2, by: 'link_check' },
			{ key: 'f', who: { as: 'firm', staffId: null }, does: 'signs', rank: 3 },
			{ key: 'c', who: { as: 'outside' }, does: 'copy', rank: 4 }
		],
		'You and Abel file together for the first time. Please both sign that you want it so: you first, then Abel.'
	);
	reads('2026-04-28', '19:05', COUPLE, signs);
	for (const [n, name] of [...WAITING.entries()]) {
		send(
			'2026-04-28',
			`10:${n}5`,
			name,
			TERMS,
			YEAR_END,
			SIDES,
			[
				{ key: 'a', who: { as: 'asked' }, does: 'signs', rank: 1 },
				{ key: 'f', who: { as: 'firm', staffId: null }, does: 'signs', rank: 2 }
			],
			ASKS
		);
		reads('2026-04-30', `18:${n}5`, name, signs);
	}
	send(
		'2026-04-29',
		'15:10',
		DECLINES,
		TERMS,
		YEAR_END,
		SIDES,
		[
			{ key: 'a', who: { as: 'asked' }, does: 'signs', rank: 1 },
			{ key: 'f', who: { as: 'firm', staffId: as('ferrin').id }, does: 'signs', rank: 2 }
		],
		ASKS
	);
	withFees();
	reads('2026-04-30', '20:40', DECLINES, (itemId, actor) =>
		inFirm(firmId, (tx) => declineLetter(tx, actor, { itemId, reason: 'We agreed on $1,600 in March, did we not?' }), actor.id!)
	);

	/** A letter of the Library that says what each service costs: one is signed by all, with an account for the fees; another waits. */
	function withFees() {
		const sent = new Map<string, string>();
		let list = '';
		const key = 'letter';
		const cost = READY_MADE_LETTER.content.findIndex(({ type, ...block }) => type === 'paragraph' && JSON.stringify(block).includes('monthly_fee'));
		const document: LetterDocument = {
			type: 'doc',
			content: [
				...READY_MADE_LETTER.content.slice(0, cost),
				{ type: 'fees' },
				{
					type: 'paragraph',
					content: [
						{ type: 'text', text: 'Fees of a month are due on its last day. Work outside this letter is agreed with you before we begin it.' }
					]
				},
				...PAYMENT_WORDS,
				...READY_MADE_LETTER.content.slice(cost + 1)
			]
		};
		const common = { kind: 'letter' as const, key, heading: '', title: 'Engagement letter', why: null, required: true, acceptsItself: false };
		at(on('2026-03-03'), '11:10', async () => {
			const known = (await inFirm(firmId, (tx) => readLists(tx, as('odalys')))).find(({ name }) => name === WITH_FEES);
			const form = requestListSchema.parse({
				name: WITH_FEES,
				about: 'Says what each service costs, and asks for the account from which we may collect.',
				title: 'Your engagement letter',
				shared: 'all',
				folder: 'Letters',
				lines: [{ ...common, why: undefined, due: { from: 'asked', offset: 8, unit: 'business_days', roll: 'none' }, spec: {}, document }]
			});
			list = known?.id ?? (await inFirm(firmId, (tx) => addList(tx, as('odalys'), form)));
		});
		const letters: [day: string, time: string, to: string, services: string[]][] = [
			['2026-04-20', '15:30', PAYS, ['Monthly books', 'Sales tax', 'Year end']],
			['2026-04-30', '15:45', IS_ASKED, ['Monthly books', 'Personal tax']]
		];
		for (const [day, time, to, services] of letters)
			at(on(day), time, async () => {
				const known = await person(to);
				if (!known?.actor.id || !list) return;
				const letter: RequestLine = {
					...common,
					attachments: [],
					account: null,
					dueOn: on('2026-05-13'),
					spec: { fees: FEES.filter(({ service }) => services.includes(service)) },
					document,
					values: { start_date: '1 June 2026', services: 'what the table below names' }
				};
				const papers = to === IS_ASKED ? FIRST_MONTH.map((title) => firstMonthLine(title, on('2026-05-13'))) : [];
				const content = draftContentSchema.parse({ contactId: known.actor.id, title: 'Your first month with us', lines: papers });
				const written: NewRequest = {
					clientId: known.client,
					contactId: known.actor.id,
					others: [],
					each: false,
					title: 'Your engagement letter',
					message: 'Here is our engagement letter, with what each service costs. Please read and sign it, and name the account for the fees.',
					quiet: false,
					tellNow: false,
					withInvitation: false,
					idempotencyKey: randomUUID(),
					list: { id: list, version: 1 },
					lines: [letter, ...papers.map((line) => requestLineSchema.parse(asRequestLine(line, {})))]
				};
				// the papers of the first month wait until the letter is signed by all
				const requestId = await sendRequest(context, firmId, as('odalys'), written, { lettersFirst: content });
				const item = await inFirm(firmId, (tx) => tx.first<{ id: string }>('select id from item where request_id = $1', [requestId]));
				sent.set(to, item!.id);
			});
		at(on('2026-04-21'), '18:30', async () => {
			const to = PAYS;
			const [known, itemId] = [await person(to), sent.get(to)];
			if (!known?.actor.id || !itemId) return;
			const { actor } = known;
			await inFirm(firmId, (tx) => seeItem(tx, actor, itemId), actor.id!);
			await inFirm(firmId, (tx) => noteLetterOpened(tx, actor, itemId), actor.id!);
			await inFirm(firmId, (tx) => noteShownWhole(tx, actor, itemId), actor.id!);
			const { places, own } = (await inFirm(firmId, (tx) => readLetterPages(tx, itemId)))!;
			const values = Object.fromEntries(
				fieldsOf(places, own).map(({ label, kind, country = '' }) => [
					label,
					kind === 'holder' ? to : accountIn(country)[kind === 'routing' ? 'routing' : 'account']
				])
			);
			await inFirm(
				firmId,
				(tx) => signLetter(tx, actor, { itemId, signature: { method: 'typed', name: actor.name }, consent: true, values }, secretKey),
				actor.id!
			);
			await goOn(itemId);
		});
		at(on('2026-04-22'), '09:20', async () => {
			const itemId = sent.get(PAYS);
			if (!itemId) return;
			const { sha256 } = (await inFirm(firmId, (tx) =>
				tx.first<{ sha256: string }>(
					`select encode(l.sha256, 'hex') sha256 from letter l join letter_signer s on s.letter_id = l.id where s.item_id = $1`,
					[itemId]
				)
			))!;
			await inFirm(firmId, (tx) => countersignLetter(tx, as('ferrin'), { itemId, sha256, signature: { method: 'typed', name: 'Ferrin Ashgrove' } }));
			await goOn(itemId);
		});
	}
}
