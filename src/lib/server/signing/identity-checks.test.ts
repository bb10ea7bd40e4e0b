import { spawnSync } from 'node:child_process';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { buffer } from 'node:stream/consumers';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import type { RequestLine } from '$lib/core/requests/request-list';
import { usualSigners } from '$lib/core/signing/signers';
import { announceRequests } from '../announcements/announce-requests';
import { doWhatIsDue } from '../due/do-what-is-due';
import { loadFirm } from '../firms/firm';
import { markRemarksSeen, writeOwnRemark } from '../items/remarks';
import type { Tx } from '../platform/db/database';
import { httpIdentityCheckService, IdentityServiceAway, type IdentityCheckService } from '../platform/identity-checks/identity-check-service';
import { rightAnswers, startIdentityCheckStandin, type IdentityCheckStandin } from '../platform/identity-checks/standin';
import { readCheckService, refreshCheckTerms } from '../platform/identity-checks/terms';
import { changeSigningWay, letCheckAgain } from '../requests/replace-signer';
import { sendRequest } from '../requests/send-request';
import { readItemLeaf } from '../rounds/item-leaf';
import { countRounds, readRounds } from '../rounds/read-rounds';
import { itemsOf, letterLine, letterOf, makeClient, requestTo, SECRET_KEY, sendPlanned, type TestClient } from '../testing/test-firm';
import { context, firm, useFirm } from '../testing/use-firm';
import { countersignLetter } from './countersign-letter';
import { answerIdentityCheck, beginIdentityCheck, readSignerChecks } from './identity-checks';
import { beginLetterVisit, findLetterVisitor, giveLetterCode, readLetterDoor, type LetterVisitor } from './letter-links';
import { readLetterTrail } from './letter-trail';
import { noteShownWhole, openLetterPdf, opensAfterCheck, signLetter } from './sign-letter';

useFirm({ withClient: false });

const KEY = 'a key of the identity checks';
let standin: IdentityCheckStandin;
let service: IdentityCheckService;
beforeAll(async () => {
	standin = await startIdentityCheckStandin({ port: 0, key: KEY });
	service = httpIdentityCheckService({ url: standin.url, key: KEY });
});
afterAll(() => standin.close());
/** each test asks from a network of its own: only so many codes go there */
let network = 0;
beforeEach(() => {
	network++;
	return refreshCheckTerms(context.db, service, context.clock.now());
});

const VALUES = { start_date: '1 June 2026', services: 'the monthly books', monthly_fee: '$280' };
const [asked, anyone] = usualSigners();
const letter = (): RequestLine => {
	const line = letterLine('Engagement letter', '2026-05-20', VALUES) as Extract<RequestLine, { kind: 'letter' }>;
	return { ...line, spec: { signing: { documents: [], signers: [{ ...asked, by: 'link_check' }, anyone], places: [] } } };
};
interface Letter {
	of: TestClient;
	itemId: string;
	link: string;
}
const linkTo = (to: string) =>
	/\/sign\/([\w-]{43})/.exec(context.mailer.sent.filter((mail) => mail.to.address === to).findLast(({ text }) => text.includes('/sign/'))!.text)![1];
async function sent(name?: string): Promise<Letter> {
	const of = await makeClient(context, firm, { name: 'Ninth Rock Oysters', access: false });
	if (name) await context.owner.query('update contact set name = $2 where id = $1', [of.contactId, name]);
	const [item] = await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(of, [letter()], { withInvitation: false })));
	await sendPlanned(context, firm);
	return { of, itemId: item.id, link: linkTo(of.email) };
}
const visitor = (ip = `10.1.${network}.9`) => ({
	kind: 'nobody' as const,
	id: null,
	name: 'somebody',
	role: null,
	now: context.clock.now(),
	ip,
	userAgent: 'Test browser'
});
const place = (identity: IdentityCheckService | null = service) => ({ db: context.db, limits: context.limits, identity });
/** Begins a visit and gives the code. @returns the browser's token */
async function coded({ of, link }: Letter, ip?: string): Promise<string> {
	const token = await beginLetterVisit(context, firm.id, visitor(ip), link);
	await sendPlanned(context, firm);
	const code = /\b(\d{4} \d{4})\b/.exec(context.mailer.sent.filter(({ to }) => to.address === of.email).at(-1)!.text)![1];
	expect(await giveLetterCode(context, firm.id, visitor(ip), link, token, code)).toBe('check');
	return token;
}
const door = ({ link }: Letter, token?: string) => firm.run((tx) => readLetterDoor(tx, link, token, context.clock.now()));
const who = ({ link }: Letter, token: string) => findLetterVisitor(context.db, firm.id, visitor(), link, token);
const begin = ({ link }: Letter, token: string, identity?: IdentityCheckService | null) =>
	beginIdentityCheck(place(identity), firm.id, visitor(), link, token);
const answer = ({ link }: Letter, token: string, given: Record<string, unknown>, identity?: IdentityCheckService) =>
	answerIdentityCheck(place(identity), firm.id, visitor(), link, token, given);
const right = async (of: Letter, token: string) => rightAnswers((await door(of, token)).check!.questions!);
async function wrong(of: Letter, token: string) {
	const questions = (await door(of, token)).check!.questions!;
	return Object.fromEntries(questions.map(({ key, choices }) => [key, choices.at(-1)!.key]));
}
async function fail(of: Letter, token: string) {
	await begin(of, token);
	return answer(of, token, await wrong(of, token));
}
const trail = async ({ itemId }: Letter) =>
	(await firm.run((tx) => readLetterTrail(tx, firm.odalys(), itemId))).entries.map(({ said }) => JSON.parse(said) as Record<string, string>);
const leaf = ({ itemId }: Letter) => firm.run(async (tx) => readItemLeaf(tx, firm.odalys(), await loadFirm(tx), itemId));
const rounds = () => firm.run(async (tx) => readRounds(tx, firm.odalys(), await loadFirm(tx), { due: (date) => date }));
const stopped = async () => (await rounds()).rows.filter(({ section }) => section === 'checks');
const kept = async () =>
	(
		await context.owner.query<{ outcome: string; score: number; questions: unknown; price: string }>(
			'select outcome, score, questions, price::text from identity_check where firm_id = $1 order by begun_at',
			[firm.id]
		)
	).rows;
/** A service that is reached, and then does not do what it should. */
const away = (more: Partial<IdentityCheckService>): IdentityCheckService => ({ ...service, ...more });
const gone = async () => {
	throw new IdentityServiceAway('gone');
};

describe('somebody who has to show who they are', () => {
	test('gives the code, answers the questions and signs; result, score and price stand in the trail, questions and answers nowhere', async () => {
		const one = await sent();
		expect(await door(one)).toMatchObject({
			way: 'link_check',
			check: { service: 'Quayside Identity (simulated)', next: false, questions: null, left: 2, stopped: false }
		});
		const token = await coded(one);
		// the code alone lets nobody in
		expect(await who(one, token)).toBeNull();
		expect((await door(one, token)).check).toMatchObject({ next: true, questions: null, left: 2 });
		expect(standin.asked.filter(({ email }) => email === one.of.email)).toEqual([]);
		await begin(one, token);
		const { check } = await door(one, token);
		expect(check!.questions).toHaveLength(4);
		expect(check!.left).toBe(1);
		expect(standin.asked.at(-1)).toMatchObject({ name: 'Mara Whitlock', email: one.of.email, phone: null, language: 'en', country: 'CA' });
		// another browser with the same link sees none of them
		expect((await door(one)).check).toMatchObject({ next: false, questions: null });
		expect(await answer(one, token, await right(one, token))).toBe('in');
		const visit = (await who(one, token)) as LetterVisitor;
		expect(visit).toMatchObject({ way: 'link_check', actor: { kind: 'contact', id: one.of.contactId } });
		await context.db.inFirm(
			firm.id,
			async (tx) => {
				await noteShownWhole(tx, visit.actor, one.itemId);
				await signLetter(
					tx,
					visit.actor,
					{ itemId: one.itemId, signature: { method: 'typed', name: 'Mara Whitlock' }, consent: true, by: visit.way },
					SECRET_KEY
				);
			},
			one.of.contactId
		);
		const entries = await trail(one);
		expect(entries.map(({ what }) => what)).toEqual(
			expect.arrayContaining(['letter_code_given', 'letter_check_begun', 'letter_check_passed', 'letter_signed'])
		);
		expect(entries.find(({ what }) => what === 'letter_check_begun')).toMatchObject({ 'detail.price': '1.40 CAD', 'detail.questions': '4' });
		expect(entries.find(({ what }) => what === 'letter_check_passed')).toMatchObject({
			'detail.service': 'Quayside Identity (simulated)',
			'detail.score': '100',
			by: 'contact',
			who: 'Mara Whitlock'
		});
		expect(await kept()).toEqual([{ outcome: 'passed', score: 100, questions: null, price: '1.40' }]);
		expect(JSON.stringify(entries)).not.toContain('Wharf');
		expect((await leaf(one)).checks).toMatchObject([{ key: 'a', stoppedAt: null, checks: [{ outcome: 'passed', score: 100 }] }]);
		const { rows } = await context.owner.query<{ sha256: string }>(`select encode(sha256, 'hex') sha256 from letter where item_id = $1`, [
			one.itemId
		]);
		const by = firm.odalys();
		await firm.run((tx) => countersignLetter(tx, by, { itemId: one.itemId, ...rows[0], signature: { method: 'typed', name: by.name } }));
		await letterOf(context, firm, one.itemId);
		const { storageKey } = await firm.run((tx) => openLetterPdf(tx, by, one.itemId));
		const sealed = spawnSync('pdftotext', ['-', '-'], { input: await buffer(context.papers.read(storageKey)), encoding: 'utf8' }).stdout;
		const certificate = sealed.replace(/\s+/g, ' ');
		expect(certificate).toContain('a code that was sent to their e-mail address, and an identity check.');
		expect(certificate).toContain('Quayside Identity (simulated) asked Mara Whitlock 4 questions about who they are');
		expect(certificate).toContain('Mara Whitlock passed the identity check of Quayside Identity (simulated) with 100 of 100 points');
		// what they have signed they read with the code alone
		const again = await beginLetterVisit(context, firm.id, visitor(), one.link);
		await sendPlanned(context, firm);
		const code = /\b(\d{4} \d{4})\b/.exec(context.mailer.sent.at(-1)!.text)![1];
		expect(await giveLetterCode(context, firm.id, visitor(), one.link, again, code)).toBe('in');
	});

	test('twice without showing it: closed to them, nobody reminds them, the firm finds it and can let them try again', async () => {
		const one = await sent();
		const token = await coded(one);
		expect(await fail(one, token)).toBe('failed');
		expect((await door(one, token)).check).toMatchObject({ next: true, questions: null, left: 1 });
		expect(await stopped()).toHaveLength(0);
		expect(await fail(one, token)).toBe('stopped');
		expect((await door(one)).check).toMatchObject({ stopped: true });
		await expect(begin(one, token)).rejects.toMatchObject({ code: 'changed_meanwhile' });
		await expect(beginLetterVisit(context, firm.id, visitor(), one.link)).rejects.toMatchObject({ code: 'changed_meanwhile' });
		expect(await stopped()).toMatchObject([
			{ itemId: one.itemId, words: 'Engagement letter: Mara Whitlock did not pass the identity check, 0 of 100 points' }
		]);
		expect((await firm.run(async (tx) => countRounds(tx, await loadFirm(tx), context.clock.now()))).checks).toBe(1);
		const { item, nextChase, checks } = await leaf(one);
		expect([item.asksUs, nextChase]).toEqual([true, null]);
		expect(checks[0].checks).toHaveLength(2);
		// seeing a question does not set reminders going while they cannot go on
		await one.of.run((tx) => writeOwnRemark(tx, one.of.mara(), { itemId: one.itemId, words: 'It does not let me in.', pinned: null }));
		await firm.run((tx) => markRemarksSeen(tx, firm.odalys(), one.itemId));
		expect((await leaf(one)).nextChase).toBeNull();

		const again = (actor = firm.odalys()) => firm.run((tx) => letCheckAgain(tx, actor, { itemId: one.itemId, signer: 'a' }));
		await expect(again({ ...firm.filing, now: context.clock.now() })).rejects.toMatchObject({ code: 'not_allowed' });
		await expect(again(one.of.mara())).rejects.toMatchObject({ code: 'not_allowed' });
		await again();
		await expect(again()).rejects.toMatchObject({ code: 'changed_meanwhile' });
		expect(await stopped()).toHaveLength(0);
		expect((await leaf(one)).nextChase).not.toBeNull();
		const before = context.mailer.sent.length;
		context.clock.set('2026-05-04T13:40:00Z');
		await announceRequests(context.db, firm.id, context.clock.now());
		await sendPlanned(context, firm);
		expect(context.mailer.sent.slice(before).map(({ to }) => to.address)).toEqual([one.of.email]);
		const second = await coded({ ...one, link: linkTo(one.of.email) }, '203.0.113.77');
		await begin({ ...one, link: linkTo(one.of.email) }, second);
		expect(await answer({ ...one, link: linkTo(one.of.email) }, second, await right(one, second))).toBe('in');
		expect((await trail(one)).map(({ what }) => what)).toContain('letter_check_allowed');
	});

	test('whom the service knows nothing of is not asked, and stopped at once', async () => {
		const one = await sent('Mara Unknown');
		const token = await coded(one);
		await begin(one, token);
		expect((await door(one, token)).check).toMatchObject({ stopped: true, questions: null });
		expect((await stopped())[0].words).toContain('the service knows too little of them');
		// by another way they can sign
		await firm.run((tx) => changeSigningWay(tx, firm.odalys(), { itemId: one.itemId, signer: 'a', by: 'link_mail' }));
		expect(await stopped()).toHaveLength(0);
		expect((await leaf(one)).nextChase).not.toBeNull();
		expect((await door(one)).check).toBeNull();
	});

	test('questions are good for a quarter of an hour; what is not answered is one of the tries, and they are not kept', async () => {
		const one = await sent();
		const token = await coded(one);
		await begin(one, token);
		const answers = await right(one, token);
		context.clock.set('2026-05-04T13:45:01Z');
		await expect(answer(one, token, answers)).rejects.toMatchObject({ what: { key: 'wrong.check.late' } });
		await doWhatIsDue(context, firm.id, context.clock.now());
		expect(await kept()).toEqual([{ outcome: 'expired', score: null, questions: null, price: '1.40' }]);
		expect(await stopped()).toHaveLength(0);
		await begin(one, token);
		context.clock.set('2026-05-04T14:02:00Z');
		// nobody came back: the worker finds it out
		await doWhatIsDue(context, firm.id, context.clock.now());
		expect(await stopped()).toHaveLength(1);
		expect((await trail(one)).filter(({ what }) => what === 'letter_check_expired')).toHaveLength(2);
	});

	test('pressed twice they are asked once, answered twice they are let in once, and another one who knows the link throws nobody out', async () => {
		const one = await sent();
		const token = await coded(one);
		await Promise.all([begin(one, token), begin(one, token)]);
		await begin(one, token);
		expect(standin.asked.filter(({ email }) => email === one.of.email)).toHaveLength(1);
		await beginLetterVisit(context, firm.id, visitor('203.0.113.50'), one.link);
		const answers = await right(one, token);
		await expect(answer(one, 'x'.repeat(43), answers)).rejects.toMatchObject({ what: { key: 'wrong.check.again' } });
		expect(await answer(one, token, answers)).toBe('in');
		expect(await answer(one, token, await Promise.resolve(answers))).toBe('in');
		expect((await trail(one)).filter(({ what }) => what === 'letter_check_passed')).toHaveLength(1);
	});

	test('an answer that is missing or none of the choices is named, and costs no try', async () => {
		const one = await sent();
		const token = await coded(one);
		await begin(one, token);
		const answers = await right(one, token);
		await expect(answer(one, token, { ...answers, q2: 'something else' })).rejects.toMatchObject({
			what: { key: 'wrong.check.unanswered', values: { count: 1 } }
		});
		expect(await answer(one, token, { ...answers, more: 'x'.repeat(1000) })).toBe('in');
	});

	test('a service that is away costs no try, before the questions and after them', async () => {
		const one = await sent();
		const token = await coded(one);
		await expect(begin(one, token, away({ begin: gone }))).rejects.toMatchObject({ what: { key: 'wrong.check.away' } });
		await expect(begin(one, token, null)).rejects.toMatchObject({ what: { key: 'wrong.check.away' } });
		expect((await door(one, token)).check).toMatchObject({ left: 2, next: true });
		await begin(one, token);
		const answers = await right(one, token);
		await expect(answer(one, token, answers, away({ answer: gone }))).rejects.toMatchObject({ what: { key: 'wrong.check.awayAnswers' } });
		expect(await right(one, token)).toEqual(answers);
		expect(await answer(one, token, answers)).toBe('in');
	});

	test('signed in to their page they neither see it nor sign it', async () => {
		const one = await sent();
		await context.owner.query(`update contact set password_hash = 'x' where id = $1`, [one.of.contactId]);
		const mara = one.of.mara();
		const inPortal = <T>(work: (tx: Tx) => Promise<T>) => one.of.run(work);
		expect(await inPortal((tx) => opensAfterCheck(tx, mara, one.itemId))).toBe(true);
		await expect(inPortal((tx) => openLetterPdf(tx, mara, one.itemId))).rejects.toMatchObject({ code: 'not_allowed' });
		await inPortal((tx) => noteShownWhole(tx, mara, one.itemId));
		const signature = { method: 'typed', name: 'Mara Whitlock' } as const;
		for (const by of [undefined, 'portal', 'link_mail'] as const)
			await expect(inPortal((tx) => signLetter(tx, mara, { itemId: one.itemId, signature, consent: true, by }, SECRET_KEY))).rejects.toMatchObject({
				what: { key: 'wrong.check.byLink' }
			});
		// the firm sees it as ever, and by another way so do they
		await firm.run((tx) => openLetterPdf(tx, firm.odalys(), one.itemId));
		await firm.run((tx) => changeSigningWay(tx, firm.odalys(), { itemId: one.itemId, signer: 'a', by: 'portal' }));
		await inPortal((tx) => openLetterPdf(tx, mara, one.itemId));
	});

	test('nobody of a client reads how it went', async () => {
		const one = await sent();
		const token = await coded(one);
		await fail(one, token);
		await expect(one.of.run(async (tx) => readSignerChecks(tx, one.of.mara(), one.itemId))).rejects.toMatchObject({ code: 'not_allowed' });
		await expect(one.of.run((tx) => tx.rows('select 1 from identity_check'))).rejects.toThrow('permission denied');
	});
});

describe('the way', () => {
	test('is offered with its price where a service is set up, never in practice, and a letter that asks for it cannot go without', async () => {
		const read = () => firm.run(readCheckService);
		expect(await read()).toEqual({ name: 'Quayside Identity (simulated)', costs: '1.40\u00a0CAD each time' });
		await context.owner.query(`update firm set practice_of_id = $2, practice_state = 'ready' where id = $1`, [firm.id, firm.id]);
		expect(await read()).toBeNull();
		await context.owner.query('update firm set practice_of_id = null, practice_state = null where id = $1', [firm.id]);
		await refreshCheckTerms(context.db, null, context.clock.now());
		expect(await read()).toBeNull();
		await expect(sent()).rejects.toThrow('No service that checks identities is set up here');
	});

	test('what the service says of itself is asked for once an hour; one that is away keeps what it said', async () => {
		let times = 0;
		const counted = away({ terms: async () => ({ service: `Terms ${++times}`, price: null }) });
		const ask = (of: IdentityCheckService) => refreshCheckTerms(context.db, of, context.clock.now());
		await ask(counted);
		expect(times).toBe(0);
		context.clock.set('2026-05-04T14:31:00Z');
		await ask(away({ terms: gone }));
		expect((await firm.run(readCheckService))!.name).toBe('Quayside Identity (simulated)');
		await ask(counted);
		await ask(counted);
		expect(await firm.run(readCheckService)).toEqual({ name: 'Terms 1', costs: 'nothing' });
	});
});

test.each([
	['no JSON', 200, 'hello'],
	['no questions', 200, '{"check":"k","questions":[]}'],
	['one choice', 200, '{"check":"k","questions":[{"key":"a","words":"?","choices":[{"key":"x","words":"X"}]}]}'],
	['the same key twice', 200, '{"check":"k","questions":[{"key":"a","words":"?","choices":[{"key":"x","words":"X"},{"key":"x","words":"Y"}]}]}'],
	['too much', 200, `{"check":"k","more":"${'x'.repeat(200_000)}","questions":[]}`],
	['an error', 500, '{}'],
	['another place', 302, '{}']
])('a service that answers %s is away', async (_, status, body) => {
	const server = createServer((_request, response) => response.writeHead(status, { location: standin.url }).end(body));
	await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
	const strange = httpIdentityCheckService({ url: `http://127.0.0.1:${(server.address() as AddressInfo).port}`, key: KEY });
	const person = { reference: 'r', name: 'Mara', email: 'mara@client.example', phone: null, language: 'en', country: 'CA' };
	await expect(strange.begin(person)).rejects.toBeInstanceOf(IdentityServiceAway);
	server.closeAllConnections();
	await new Promise((resolve) => server.close(resolve));
});
