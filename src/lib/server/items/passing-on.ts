import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { DomainError } from '$lib/core/errors/domain-error';
import { partsOf } from '$lib/core/items/which-apply';
import { isOpen } from '$lib/core/requests/item-states';
import { saying } from '$lib/words/sayings';
import { machine, requireContact, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { writeAboutItem } from '../outbox/write-about-item';
import type { Tx } from '../platform/db/database';
import { enqueue } from '../platform/queue';
import { eventAbout, lockItem } from './change-item';
import { lockOwnItem, requireKind } from './own-item';

/** Most people a client's item is passed on to at a time; each of them gets a mail. */
const PASSED_MOST = 8;

/** What a client sends to pass questions on: one question by its key, or with `part` all those under its heading. */
export const passOnSchema = z.object({
	question: z.string().min(1).max(40),
	part: z.literal('yes').optional(),
	to: z.uuid('wrong.pass.who'),
	words: z.string().trim().max(400, 'wrong.pass.long').default('')
});

/** Questions that somebody of a client asked another one of them for. */
export interface Passed {
	id: string;
	keys: string[];
	toName: string;
	byName: string;
	toReader: boolean;
	byReader: boolean;
	words: string;
	/** instant */ passedAt: string;
	/** instant; null while it waits */ doneAt: string | null;
}

/** Whom a client's contact can ask, and what was passed on so far, in its order. */
export async function readPassing(tx: Tx, actor: Actor, itemId: string): Promise<{ people: { id: string; name: string }[]; passed: Passed[] }> {
	requireContact(actor);
	return {
		people: await tx.rows<{ id: string; name: string }>(`select coalesce(id, $1) id, coalesce(name, '') name from people_beside($1)`, [itemId]),
		passed: await tx.rows<Passed>(
			`select id, keys, coalesce(name_beside(to_contact_id), '') "toName", coalesce(name_beside(by_contact_id), '') "byName",
				to_contact_id = $2 "toReader", by_contact_id = $2 "byReader", words, passed_at "passedAt", done_at "doneAt"
			from answer_passed where item_id = $1 order by passed_at, id`,
			[itemId, actor.id]
		)
	};
}

/**
 * Asks somebody else of the same client for one answer, or for those of a part. They get a mail; what they write goes into the same answers,
 * and whoever asked is told when they are done. Asked for once more it is one thing.
 * @throws DomainError not_found for somebody who is not of the client, cannot sign in, or may not see it; too_many
 */
export async function passOn(tx: Tx, actor: Actor, input: { itemId: string } & z.output<typeof passOnSchema>): Promise<void> {
	const item = requireKind(await lockOwnItem(tx, actor, input.itemId), 'questionnaire');
	if (!isOpen(item.state) && item.state !== 'answered_no')
		throw new DomainError('changed_meanwhile', saying('wrong.item.moved', { title: item.title, state: item.state }));
	const to = await tx.first('select 1 from people_beside($1) where id = $2', [item.id, input.to]);
	if (!to) throw new DomainError('not_found', saying('wrong.pass.who'), { to: saying('wrong.pass.who') });
	const part = partsOf(item.spec.questions).find(({ questions }) => questions.some(({ key }) => key === input.question));
	if (!part) throw new DomainError('not_found', saying('wrong.line.unknown'));
	const keys = input.part ? part.questions.map(({ key }) => key) : [input.question];
	const open = await tx.rows<{ to: string; keys: string[] }>(
		'select to_contact_id "to", keys from answer_passed where item_id = $1 and done_at is null',
		[item.id]
	);
	if (open.some((one) => one.to === input.to && keys.every((key) => one.keys.includes(key)))) return;
	if (open.length >= PASSED_MOST) throw new DomainError('too_many', saying('wrong.pass.many', { max: PASSED_MOST }));
	const id = randomUUID();
	await tx.rows(
		`insert into answer_passed (id, firm_id, client_id, item_id, keys, to_contact_id, by_contact_id, words, passed_at)
		values ($1, $2, $3, $4, $5, $6, $7, $8, $9)`,
		[id, tx.firmId, item.client_id, item.id, keys, input.to, actor.id, input.words, actor.now]
	);
	await recordEvent(tx, actor, { verb: 'answers_passed', ...eventAbout(item), details: { title: item.title, questions: keys.length } });
	await enqueue(tx, 'tell_passed', { firmId: tx.firmId, id, done: false });
}

/** Says that what somebody was asked for is answered; whoever asked is told. @throws DomainError not_found for what was passed to somebody else */
export async function passedDone(tx: Tx, actor: Actor, input: { itemId: string; id: string }): Promise<void> {
	const item = await lockOwnItem(tx, actor, input.itemId);
	const row = await tx.first<{ done: boolean }>(
		'select done_at is not null done from answer_passed where id = $1 and item_id = $2 and to_contact_id = $3',
		[input.id, item.id, actor.id]
	);
	if (!row) throw new DomainError('not_found', saying('wrong.line.unknown'));
	if (row.done) return;
	await tx.rows('update answer_passed set done_at = $2 where id = $1', [input.id, actor.now]);
	await recordEvent(tx, actor, { verb: 'answers_passed_done', ...eventAbout(item), details: { title: item.title } });
	await enqueue(tx, 'tell_passed', { firmId: tx.firmId, id: input.id, done: true });
}

/** Tells whoever was asked, or whoever asked once it is answered, by mail. A client's own transaction knows nobody's address but theirs. */
export async function tellPassed(tx: Tx, now: string, input: { id: string; done: boolean }): Promise<void> {
	const row = await tx.first<{ item_id: string; keys: string[]; words: string; to: string; by: string; toName: string; byName: string }>(
		`select p.item_id, p.keys, p.words, p.to_contact_id "to", p.by_contact_id "by", t.name "toName", b.name "byName"
		from answer_passed p join contact t on t.id = p.to_contact_id join contact b on b.id = p.by_contact_id where p.id = $1`,
		[input.id]
	);
	if (!row) return;
	const item = requireKind(await lockItem(tx, row.item_id), 'questionnaire');
	const asked = item.spec.questions.filter(({ key }) => row.keys.includes(key));
	await writeAboutItem(
		tx,
		machine(now),
		item,
		{
			kind: 'answer_passed',
			idempotencyKey: `passed ${input.id}${input.done ? ' done' : ''}`,
			content: {
				itemTitle: item.title,
				subject: input.done ? row.toName : row.byName,
				body: asked.map(({ title }) => title).join('\n'),
				reason: row.words,
				renewed: input.done
			},
			items: [{ itemId: item.id, step: null }]
		},
		input.done ? row.by : row.to
	);
}
