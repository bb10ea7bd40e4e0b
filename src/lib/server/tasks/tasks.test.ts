import { beforeEach, describe, expect, test } from 'vitest';
import { questionSchema } from '$lib/core/items/questions';
import type { RequestLine } from '$lib/core/requests/request-list';
import { asListLine, newLine, requestListSchema } from '$lib/core/requests/request-list';
import { afterBusinessDays } from '$lib/core/schedules/due-rule';
import type { Actor } from '../actor';
import { changeClientRights } from '../clients/client-rights';
import { loadFirm } from '../firms/firm';
import { answerQuestionnaire } from '../item-kinds/kinds/questionnaire';
import { correctAnswer, leaveOutBring } from '../item-kinds/kinds/answer-review';
import { questionsForClient } from '../item-kinds/kinds/questions-for-client';
import { readItem } from '../items/read-items';
import { addList } from '../library/request-lists';
import { asStaff, type Tx } from '../platform/db/database';
import { acceptItem } from '../requests/judge-item';
import { sendRequest } from '../requests/send-request';
import { readItemLeaf } from '../rounds/item-leaf';
import { countRounds, readRounds } from '../rounds/read-rounds';
import { itemsOf, requestTo, sendPlanned } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { bringAbout } from './bring-about';
import { finishTask, giveTask, readTask } from './tasks';

useFirm();

const run = <T>(work: (tx: Tx) => Promise<T>) => firm.run(work);
let list: string;
beforeEach(async () => {
	const line = newLine({ key: 'p', kind: 'paper', title: 'Payslips', due: afterBusinessDays(5), dueOn: '', spec: {} as never });
	list = await run((tx) =>
		addList(
			tx,
			firm.odalys(),
			requestListSchema.parse({ name: 'Payroll start', about: '', title: 'Payroll', shared: 'all', lines: [asListLine(line)] })
		)
	);
});
const questions = () =>
	[
		{
			key: 'staff',
			title: 'Do you have staff?',
			answer: { is: 'yes_no' },
			brings: [
				{ key: 'task', when: { is: 'equals', value: 'yes' }, what: { does: 'task', words: 'Set up payroll', staffId: firm.partner.id } },
				{ key: 'tell', when: { is: 'equals', value: 'yes' }, what: { does: 'tell', words: 'New payroll client.', staffId: firm.partner.id } },
				{ key: 'list', when: { is: 'equals', value: 'yes' }, what: { does: 'list', listId: list } },
				{ key: 'service', when: { is: 'equals', value: 'no' }, what: { does: 'service', name: 'Payroll' } }
			]
		}
	].map((one) => questionSchema.parse({ help: '', required: true, fact: null, ...one }));
async function handedIn(staff: 'yes' | 'no', ends: unknown[] = []): Promise<string> {
	const line = {
		key: 'q',
		kind: 'questionnaire',
		title: 'About you',
		heading: '',
		why: '',
		required: true,
		acceptsItself: false,
		attachments: [],
		account: null,
		dueOn: '2026-05-20',
		spec: { questions: questions(), files: false, ends }
	} as unknown as RequestLine;
	const [{ id }] = await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [line])));
	await sendPlanned(context, firm);
	context.mailer.sent.length = 0;
	await client.run((tx) => answerQuestionnaire(tx, client.mara(), { itemId: id, typed: { staff } }));
	return id;
}
const accept = (id: string) =>
	run(async (tx) => acceptItem(tx, firm.odalys(), { itemId: id, version: (await readItem(tx, firm.odalys(), id)).version }));
/** What the worker does with the jobs that wait. */
async function work(): Promise<number> {
	const { rows } = await context.owner.query<{ payload: { firmId: string; itemId: string } }>(
		`delete from graphile_worker._private_jobs j using graphile_worker._private_tasks t where t.id = j.task_id and t.identifier = 'bring_about' returning j.payload`
	);
	for (const { payload } of rows) await context.db.inFirm(payload.firmId, (tx) => bringAbout(tx, context.clock.now(), payload.itemId));
	return rows.length;
}
const tasks = async () =>
	(await context.owner.query(`select words, because, staff_id from task where firm_id = $1 and done_at is null order by made_at, words`, [firm.id]))
		.rows;
const drafts = async () =>
	(await context.owner.query('select client_id from request_draft where firm_id = $1 and removed_at is null', [firm.id])).rows;

describe('accepting answers', () => {
	test('is told before what it brings about; then a task, mail to a person, and a draft are there, each once', async () => {
		const id = await handedIn('yes');
		const brings = () => run(async (tx) => (await readItemLeaf(tx, firm.odalys(), await loadFirm(tx), id)).brings.map(({ words }) => words));
		expect(await brings()).toEqual([
			'a task for Ferrin Ashgrove: “Set up payroll”',
			'mail to Ferrin Ashgrove: “New payroll client.”',
			'a draft of the list “Payroll start”'
		]);
		expect(await work()).toBe(0);
		expect(await tasks()).toEqual([]);
		await accept(id);
		expect(await work()).toBe(1);
		// begun again after a crash, or called once more, it is the same
		for (let again = 0; again < 2; again++) await run((tx) => bringAbout(tx, context.clock.now(), id));
		expect(await tasks()).toEqual([{ words: 'Set up payroll', because: 'Do you have staff?', staff_id: firm.partner.id }]);
		expect(await drafts()).toEqual([{ client_id: client.id }]);
		await sendPlanned(context, firm);
		const mails = context.mailer.sent.filter((mail) => mail.to.address === `${firm.partner.id}@staff.example`);
		expect(mails).toHaveLength(1);
		expect(mails[0].text).toContain('New payroll client.');
		expect(mails[0].text).toContain(`/desk/items/${id}`);
		// the client hears of none of it
		expect(context.mailer.sent.filter((mail) => mail.to.address === client.email)).toEqual([]);
		expect(await brings()).toHaveLength(3);
	});
	test('one thing is left out before it is accepted, and another one after all not; once accepted it is too late, and who only looks leaves out nothing', async () => {
		const id = await handedIn('yes');
		const leaf = () => run(async (tx) => readItemLeaf(tx, firm.odalys(), await loadFirm(tx), id));
		const leaveOut = async (n: number, out: boolean, by = firm.odalys()) => {
			const { brings, item } = await leaf();
			await run((tx) => leaveOutBring(tx, by, { itemId: id, version: item.version, key: brings[n].key, out }));
		};
		await leaveOut(0, true);
		await leaveOut(1, true);
		await leaveOut(1, false);
		expect((await leaf()).brings.map(({ left }) => left)).toEqual([true, false, false]);
		await expect(leaveOut(1, true, { ...firm.odalys(), role: 'filing' })).rejects.toMatchObject({ code: 'not_allowed' });
		await accept(id);
		await work();
		expect(await tasks()).toEqual([]);
		expect(await drafts()).toHaveLength(1);
		await sendPlanned(context, firm);
		expect(context.mailer.sent.some((mail) => mail.text.includes('New payroll client.'))).toBe(true);
		await expect(leaveOut(0, false)).rejects.toMatchObject({ code: 'changed_meanwhile' });
	});
	test('at the end, of all answers: a task, and one line of a list that was sent before, each once', async () => {
		const toStaff = { kind: 'answer', question: 'staff', is: 'equals', value: 'no' };
		const ends = [
			{ key: 'look', condition: toStaff, what: { does: 'task', words: 'Look at it as a whole', staffId: null } },
			{ key: 'line', what: { does: 'list', listId: list, line: 'p' } },
			{ key: 'gone', what: { does: 'list', listId: list, line: 'gone' } }
		];
		await accept(await handedIn('yes'));
		await work();
		expect(await drafts()).toHaveLength(1);
		const id = await handedIn('no', ends);
		const leaf = () => run(async (tx) => readItemLeaf(tx, firm.odalys(), await loadFirm(tx), id));
		expect((await leaf()).brings.map(({ words }) => words)).toEqual([
			'a task for whoever looks after the client: propose Payroll',
			'a task for whoever looks after the client: “Look at it as a whole”',
			'a draft of “Payslips” from the list “Payroll start”',
			'nothing: the line is not in the list “Payroll start” any more'
		]);
		const { brings, item } = await leaf();
		await run((tx) => leaveOutBring(tx, firm.odalys(), { itemId: id, version: item.version, key: brings[0].key, out: true }));
		await accept(id);
		expect(await work()).toBe(1);
		await run((tx) => bringAbout(tx, context.clock.now(), id));
		expect((await tasks()).map(({ words, because }) => [words, because])).toEqual([
			['Look at it as a whole', 'About you'],
			['Set up payroll', 'Do you have staff?']
		]);
		expect(await drafts()).toHaveLength(2);
	});
	test('what a client gets says nothing of it', async () => {
		const id = await handedIn('yes');
		const asked = await client.run((tx) =>
			questionsForClient(tx, client.mara(), { clientId: client.id, questions: questions(), beforeId: null }, 'en')
		);
		expect(JSON.stringify(asked)).not.toMatch(/payroll|brings/i);
		expect(id).toBeTruthy();
	});
	test('a corrected answer brings about what follows from it; what is not accepted brings about nothing', async () => {
		const id = await handedIn('no');
		await run((tx) => bringAbout(tx, context.clock.now(), id));
		expect(await tasks()).toEqual([]);
		await accept(id);
		await work();
		expect((await tasks()).map(({ words, staff_id }) => [words, staff_id])).toEqual([
			[`Propose Payroll to Gull & String Kites`, firm.coordinator.id]
		]);
		await run(async (tx) =>
			correctAnswer(tx, firm.odalys(), { itemId: id, version: (await readItem(tx, firm.odalys(), id)).version, key: 'staff', typed: 'yes' })
		);
		expect(await work()).toBe(1);
		expect((await tasks()).map(({ words }) => words)).toEqual(['Propose Payroll to Gull & String Kites', 'Set up payroll']);
	});
	test('whoever is not there any more is stood in for, and a list that is gone is passed over', async () => {
		const id = await handedIn('yes');
		await context.owner.query('update staff set suspended_at = now() where id = $1', [firm.partner.id]);
		await context.owner.query('update request_list set ended_at = now() where id = $1', [list]);
		await accept(id);
		await work();
		expect((await tasks()).map(({ staff_id }) => staff_id)).toEqual([firm.coordinator.id]);
		expect(await drafts()).toEqual([]);
	});
});

describe('a task in Rounds', () => {
	async function made(): Promise<string> {
		await accept(await handedIn('yes'));
		await work();
		return (await context.owner.query('select id from task where firm_id = $1', [firm.id])).rows[0].id;
	}
	const rows = (actor: Actor, mineOf: string | null) =>
		run(async (tx) => (await readRounds(tx, actor, await loadFirm(tx), { due: (d) => d }, mineOf)).rows.filter((row) => row.section === 'tasks'));
	test('stands for whom it is addressed to, also among only their own things; done it is gone', async () => {
		const id = await made();
		expect((await rows(firm.odalys(), null)).map((row) => [row.key, row.aside])).toEqual([[`task-${id}`, 'for Ferrin Ashgrove']]);
		expect(await rows(firm.odalys(), firm.coordinator.id)).toEqual([]);
		expect(await rows(firm.partner, firm.partner.id)).toHaveLength(1);
		const count = (mineOf: string | null) => run(async (tx) => (await countRounds(tx, await loadFirm(tx), context.clock.now(), mineOf)).tasks);
		expect([await count(null), await count(firm.coordinator.id), await count(firm.partner.id)]).toEqual([1, 0, 1]);
		// whoever may do nothing about it is not given it
		await expect(run((tx) => giveTask(tx, firm.odalys(), id, firm.filing.id!))).rejects.toMatchObject({ code: 'invalid' });
		await run((tx) => giveTask(tx, firm.odalys(), id, firm.coordinator.id!));
		expect(await rows(firm.odalys(), firm.coordinator.id)).toHaveLength(1);
		await expect(run((tx) => finishTask(tx, firm.filing, id))).rejects.toMatchObject({ code: 'not_allowed' });
		await run((tx) => finishTask(tx, firm.odalys(), id));
		expect(await rows(firm.odalys(), null)).toEqual([]);
		await expect(run((tx) => finishTask(tx, firm.odalys(), id))).rejects.toMatchObject({ code: 'not_found' });
		const { rows: events } = await context.owner.query(`select verb, actor_name from event where verb like 'task%' and firm_id = $1 order by id`, [
			firm.id
		]);
		expect(events.map((event) => event.verb)).toEqual(['task_made', 'task_given', 'task_done']);
	});
	test('of a client that somebody may not see is not there for them', async () => {
		const id = await made();
		const imre: Actor = { ...firm.partner, role: 'bookkeeper' };
		await context.owner.query(`update staff set role = 'bookkeeper' where id = $1`, [imre.id]);
		const as = <T>(actor: Actor, work: (tx: Tx) => Promise<T>) => asStaff(context.db, actor.id!).inFirm(firm.id, work);
		const close = (rights: { id: string; level: 'see' }[]) =>
			as(firm.odalys(), (tx) => changeClientRights(tx, firm.odalys(), { clientId: client.id, restricted: true, rights }));
		await close([]);
		await expect(as(imre, (tx) => readTask(tx, imre, id))).rejects.toMatchObject({ code: 'not_found' });
		await close([{ id: imre.id!, level: 'see' }]);
		await expect(as(imre, (tx) => finishTask(tx, imre, id))).rejects.toMatchObject({ code: 'not_allowed' });
	});
});
