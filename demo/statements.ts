import { randomUUID } from 'node:crypto';
import { Readable } from 'node:stream';
import type { AppContext } from '../src/lib/server/context/app-context';
import type { Actor } from '../src/lib/server/actor';
import { loadFirm } from '../src/lib/server/firms/firm';
import { handInPapers } from '../src/lib/server/item-kinds/kinds/paper';
import { takeInPaper } from '../src/lib/server/papers/papers';
import { beginRequest } from '../src/lib/server/requests/begin-request';
import { acceptItem } from '../src/lib/server/requests/judge-item';
import { sendRequest } from '../src/lib/server/requests/send-request';
import { newRequestSchema, asRequestLine } from '../src/lib/core/requests/request-list';
import { cyclesClosingIn } from '../src/lib/core/statements/accounts';
import { readAccounts } from '../src/lib/server/statements/accounts';
import { readPaper } from '../src/lib/server/statements/read-paper';
import { closingOf, printedStatement, statementData, type Institution } from '../src/lib/server/testing/printed-statements';
import type { QuestionStage } from './questionnaires';

type StatementStage = Pick<QuestionStage, 'firmId' | 'at' | 'on' | 'as' | 'inFirm' | 'clientOf'> & {
	context: Pick<AppContext, 'db' | 'papers' | 'pdf'>;
};

const CLIENT = 'Brine & Barrow Oysters';
/** What the last digits of each account belong to: how its statements look, how its number is printed, and what was on it in the beginning. */
const PRINTED: Readonly<Record<string, { institution: Institution; number: string; cents: bigint }>> = {
	'7710': { institution: 'Harbour Union', number: '0020 447710', cents: 1_220_411n },
	'7728': { institution: 'Harbour Union', number: '0020 447728', cents: 894_055n },
	'3304': { institution: 'Gullhaven Card', number: '3304', cents: 184_012n },
	'9002': { institution: 'Tideline Loans', number: '55-9002', cents: 2_450_000n }
};
/** Which statement of an account, in order, nobody thought of. */
const FORGOTTEN = { lastFour: '3304', nth: 3 };
/** Which one does not begin where the one before it ended, and by how much. */
const BROKEN = { lastFour: '7728', nth: 2, cents: -41_200n };

interface Asked {
	id: string;
	title: string;
	lastFour: string;
	from: string;
	to: string;
}

/** The statements of one client since November: asked for in one go, one forgotten, one sum that does not join, the newest to look at. */
export function playStatements({ context, firmId, at, on, as, inFirm, clientOf }: StatementStage): void {
	const asked = (clientId: string) =>
		inFirm(firmId, (tx) =>
			tx.rows<Asked>(
				`select i.id, i.title, a.last_four "lastFour", greatest(i.period_from, a.opened_on) "from", i.period_to "to" from item i join account a on a.id = i.account_id
				where i.client_id = $1 and i.phase = 'open' order by a.id, i.period_to`,
				[clientId]
			)
		);
	const balances = new Map<string, { count: number; closing: bigint }>();
	/** the file of one statement, which goes on where the one before it ended */
	async function file(item: Asked, number: number): Promise<Readable> {
		const { institution, number: account, cents } = PRINTED[item.lastFour];
		const { count, closing } = balances.get(item.lastFour) ?? { count: 0, closing: cents };
		const opening = item.lastFour === BROKEN.lastFour && count === BROKEN.nth ? closing + BROKEN.cents : closing;
		const data = statementData(number, account, item.from, item.to, opening, institution === 'Tideline Loans' ? 1 : 9);
		balances.set(item.lastFour, { count: count + 1, closing: closingOf(data) });
		return Readable.from([await printedStatement(institution, data, CLIENT)]);
	}
	const handIn = async (contact: Actor, items: readonly Asked[]) => {
		for (const [n, item] of items.entries()) {
			const name = `${item.lastFour} ${item.to}.pdf`;
			const paper = await takeInPaper(context, firmId, contact, { itemId: item.id, name, content: await file(item, 40 + n) });
			await readPaper(context, firmId, paper.id);
			await inFirm(firmId, (tx) => handInPapers(tx, contact, { itemId: item.id, without: false }), contact.id!);
		}
	};
	const sender = async (contactId: string): Promise<Actor> => {
		const contact = await inFirm(firmId, (tx) => tx.first<{ name: string }>('select name from contact where id = $1', [contactId]));
		return { ...as('odalys'), kind: 'contact', id: contactId, name: contact!.name, role: null };
	};
	const byDays = (items: Asked[]) => items.filter(({ lastFour }) => PRINTED[lastFour]).sort((a, b) => (a.to < b.to ? -1 : 1));

	const ask = (day: string, time: string, title: string, message: string, from: string, to: string, without: readonly string[]) =>
		at(on(day), time, async () => {
			const client = await clientOf(CLIENT);
			if (!client) return;
			const lines = await inFirm(firmId, async (tx) => {
				const statements = (await readAccounts(tx, as('odalys'), client.id))
					.filter(({ lastFour }) => !without.includes(lastFour))
					.flatMap((account) =>
						cyclesClosingIn(account, on(from), on(to))
							.filter((_, nth) => account.lastFour !== FORGOTTEN.lastFour || nth !== FORGOTTEN.nth)
							.map((cycle) => ({ accountId: account.id, to: cycle.to }))
					);
				return (await beginRequest(tx, as('odalys'), await loadFirm(tx), client.id, { statements })).lines;
			});
			await sendRequest(
				context,
				firmId,
				as('odalys'),
				newRequestSchema.parse({
					clientId: client.id,
					contactId: client.contact,
					withInvitation: false,
					idempotencyKey: randomUUID(),
					title,
					message,
					lines: lines.map((line) => asRequestLine(line, {}))
				})
			);
		});

	ask(
		'2026-04-21',
		'10:10',
		'Statements since November',
		'For the books of the winter we need the statements of all accounts.',
		'2025-11-01',
		'2026-04-21',
		[]
	);
	ask('2026-05-01', '09:05', 'Statements of April', 'Here is what we need for the books of April.', '2026-04-22', '2026-05-01', ['3304']);
	at(on('2026-04-23'), '14:25', async () => {
		const client = await clientOf(CLIENT);
		if (!client) return;
		const items = byDays(await asked(client.id));
		await handIn(await sender(client.contact), items);
	});
	const accept = async () => {
		const client = await clientOf(CLIENT);
		if (!client) return;
		const items = await inFirm(firmId, (tx) =>
			tx.rows<{ id: string; version: number }>(
				`select id, version from item where client_id = $1 and account_id is not null and state = 'handed_in' order by period_to`,
				[client.id]
			)
		);
		for (const { id, version } of items) await inFirm(firmId, (tx) => acceptItem(tx, as('odalys'), { itemId: id, version }));
	};
	at(on('2026-04-24'), '10:40', accept);
	at(on('2026-05-02'), '09:40', accept);
	at(on('2026-05-01'), '17:30', async () => {
		const client = await clientOf(CLIENT);
		if (!client) return;
		const newest = byDays(await asked(client.id)).filter(({ lastFour }) => lastFour === '7710');
		await handIn(await sender(client.contact), newest.slice(-1));
	});
}
