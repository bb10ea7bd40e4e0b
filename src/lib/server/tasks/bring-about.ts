import { createHash, randomUUID } from 'node:crypto';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import { bringInWords, bringKey, bringsAnything, type BringNames } from '$lib/core/items/brings';
import type { AnswerReview } from '$lib/core/items/answer-review';
import type { ItemSpec } from '$lib/core/items/item-kinds';
import type { Answers } from '$lib/core/items/questions';
import { broughtAbout } from '$lib/core/items/which-apply';
import { may, ROLES } from '$lib/core/people/roles';
import { machine, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { readClientsKnown } from '../clients/clients-known';
import { loadFacts } from '../facts/firm-facts';
import { loadFirm } from '../firms/firm';
import { lockItem } from '../items/change-item';
import { planMessage } from '../outbox/plan-message';
import type { Tx } from '../platform/db/database';
import { prepareForMany } from '../requests/ask-many';

/** Roles that may do what there is to do. */
export const TASK_ROLES = ROLES.filter((role) => may(role, 'judge_item'));

interface Named {
	id: string;
	name: string;
}
/** The people of the firm who may be given tasks, by name. */
export const readTaskPeople = (tx: Tx): Promise<Named[]> =>
	tx.rows<Named>('select id, name from staff where firm_id = $1 and suspended_at is null and role = any ($2) order by lower(name), id', [
		tx.firmId,
		TASK_ROLES
	]);
/** A list with its lines, as it is chosen from. */
export interface TaskList extends Named {
	lines: { key: string; title: string }[];
}
/** The lists of the Library that anybody may send, by name. */
export const readTaskLists = (tx: Tx): Promise<TaskList[]> =>
	tx.rows<TaskList>(
		`select id, name, coalesce((select jsonb_agg(jsonb_build_object('key', line -> 'key', 'title', line -> 'title') order by n)
			from jsonb_array_elements(lines) with ordinality as l (line, n)), '[]') lines
		from request_list where firm_id = $1 and ended_at is null and shared = 'all' order by lower(name), id`,
		[tx.firmId]
	);

/** The people who are there and the lists of the Library, by id. */
async function readBringNames(tx: Tx): Promise<BringNames> {
	const lists = await readTaskLists(tx);
	return {
		staff: new Map((await readTaskPeople(tx)).map(({ id, name }) => [id, name])),
		lists: new Map(lists.map(({ id, name, lines }) => [id, { name, lines: new Map(lines.map(({ key, title }) => [key, title])) }]))
	};
}

/** One thing that answers bring about. */
export interface BroughtAbout {
	key: string;
	words: string;
	/** a person said that it is not to happen */
	left: boolean;
}

/** What the answers to a questionnaire bring about once they are accepted, or have brought about, in words. */
export async function readBrings(
	tx: Tx,
	actor: Actor,
	item: { clientId: string; spec: ItemSpec<'questionnaire'>; answers: Answers; leftOut: readonly string[] }
): Promise<BroughtAbout[]> {
	if (!bringsAnything(item.spec)) return [];
	const names = await readBringNames(tx);
	return (await holding(tx, actor.now, item)).map(({ question, bring }) => {
		const key = bringKey(question, bring);
		return { key, words: bringInWords(bring, names), left: item.leftOut.includes(key) };
	});
}

async function holding(tx: Tx, now: string, item: { clientId: string; spec: ItemSpec<'questionnaire'>; answers: Answers }) {
	const today = localDate(now, (await loadFirm(tx)).calendar);
	const known = (await readClientsKnown(tx, [item.clientId], today)).get(item.clientId);
	return broughtAbout(item.spec, item.answers, known ? { known, facts: await loadFacts(tx) } : null, today);
}

/** An id that is the same each time for the same words (RFC 9562, version 8). */
function idOf(words: string): string {
	const hex = createHash('sha256').update(words).digest('hex');
	return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-8${hex.slice(13, 16)}-a${hex.slice(17, 20)}-${hex.slice(20, 32)}`;
}

/**
 * Brings about what the accepted answers of a questionnaire bring about: tasks, mail to people of the firm, drafts. Each of it once, however
 * often it is called; nothing goes to the client by it.
 */
export async function bringAbout(tx: Tx, now: string, itemId: string): Promise<void> {
	const item = await lockItem(tx, itemId);
	if (item.kind !== 'questionnaire' || item.state !== 'accepted') return;
	const row = await tx.first<{
		answers: Answers | null;
		review: AnswerReview;
		client: string;
		responsible: string;
		name: string;
		role: Actor['role'];
	}>(
		`select i.answer_data answers, i.answer_review review, c.name client, s.id responsible, s.name, s.role from item i join client c on c.id = i.client_id join staff s on s.id = c.responsible_id
		where i.id = $1`,
		[itemId]
	);
	if (!row?.answers) return;
	const names = await readBringNames(tx);
	const by = machine(now);
	/** who prepares a draft: whoever looks after the client, who sends it as well */
	const keeper: Actor = { ...by, kind: 'staff', id: row.responsible, name: row.name, role: row.role };
	const held = await holding(tx, now, { clientId: item.client_id, spec: item.spec, answers: row.answers });
	for (const { question, bring } of held) {
		if (row.review.leftOut?.includes(bringKey(question, bring))) continue;
		const once = `${itemId} ${bringKey(question, bring)}`;
		const because = question?.title ?? item.title;
		const { what } = bring;
		const staffId = 'staffId' in what && what.staffId !== null && names.staff.has(what.staffId) ? what.staffId : row.responsible;
		if (what.does === 'task' || what.does === 'service') {
			const words = what.does === 'task' ? what.words : `Propose ${what.name} to ${row.client}`;
			const made = await tx.first(
				`insert into task (id, firm_id, client_id, item_id, once, words, because, staff_id, made_at) values ($1, $2, $3, $4, $5, $6, $7, $8, $9)
				on conflict (firm_id, once) do nothing returning id`,
				[randomUUID(), tx.firmId, item.client_id, itemId, once, words, because, staffId, now]
			);
			if (made)
				await recordEvent(tx, by, {
					verb: 'task_made',
					clientId: item.client_id,
					itemId,
					details: { words, person: names.staff.get(staffId) ?? row.name }
				});
		} else if (what.does === 'tell') {
			const person = await tx.first<{ email: string }>('select email::text from staff where id = $1', [staffId]);
			await planMessage(tx, by, {
				kind: 'answer_told',
				idempotencyKey: `told ${once}`,
				to: { address: person!.email, staffId },
				clientId: item.client_id,
				content: { subject: `${row.client}: ${because}`, body: what.words, clientName: row.client, itemTitle: item.title, itemId }
			});
		} else if (names.lists.has(what.listId)) {
			// a list that was sent before is not sent again by itself; one line of it may be
			const filter = { mine: false, service: null, again: what.line !== undefined, only: [item.client_id] };
			try {
				await prepareForMany(tx, keeper, { listId: what.listId, line: what.line, filter, runId: idOf(once), send: false });
			} catch (refused) {
				// asked by this list already, or nobody to ask: a person finds that in the record
				if (!(refused instanceof DomainError)) throw refused;
			}
		}
	}
}
