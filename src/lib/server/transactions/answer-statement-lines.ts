import { DomainError } from '$lib/core/errors/domain-error';
import { isOpen } from '$lib/core/requests/item-states';
import {
	allowsAnswer,
	openStatementLines,
	type StatementLineAnswer,
	type StatementLineAnswerKind,
	type StatementLineAnswers
} from '$lib/core/transactions/statement-line-answers';
import { saying } from '$lib/words/sayings';
import { requireStaff, type Actor } from '../actor';
import { loadFirm } from '../firms/firm';
import { recordEvent } from '../audit/record-event';
import type { Tx } from '../platform/db/database';
import { lockItem, moveItem, requireUnchanged, type LockedItem } from '../items/change-item';
import { lockOwnItem, requireKind, startItem } from '../items/own-item';

interface Given {
	itemId: string;
	lineId: string;
	/** null takes the answer back */
	answer: { how: StatementLineAnswerKind; words: string } | null;
}

/** @throws DomainError invalid */
const specOf = (item: LockedItem) => requireKind(item, 'transactions').spec;

async function write(tx: Tx, actor: Actor, item: LockedItem, given: Given): Promise<void> {
	const spec = specOf(item);
	if (!spec.lines.some((line) => line.id === given.lineId)) throw new DomainError('not_found', saying('wrong.line.unknown'));
	if (given.answer && !allowsAnswer(spec, given.answer)) throw new DomainError('invalid', saying('wrong.answer.choose'));
	if (!given.answer) {
		await tx.rows('update item set answer_data = answer_data - $2 where id = $1 and answer_data is not null', [item.id, given.lineId]);
		return;
	}
	const answer: StatementLineAnswer = { ...given.answer, by: actor.name, at: actor.now };
	await tx.rows(`update item set answer_data = coalesce(answer_data, '{}') || jsonb_build_object($2::text, $3::jsonb) where id = $1`, [
		item.id,
		given.lineId,
		JSON.stringify(answer)
	]);
}

/**
 * Keeps the answer to one line as it comes; the firm sees it at once, and is called when all of them are there.
 * @throws DomainError changed_meanwhile once it was handed in
 */
export async function answerStatementLine(tx: Tx, actor: Actor, given: Given): Promise<void> {
	const item = await lockOwnItem(tx, actor, given.itemId);
	if (!isOpen(item.state) && item.state !== 'answered_no')
		throw new DomainError('changed_meanwhile', saying('wrong.item.moved', { title: item.title, state: item.state }));
	await write(tx, actor, item, given);
	await startItem(tx, actor, item);
}

/** Keeps what is typed of an answer, so that it can be gone on with elsewhere; what was answered before stays. */
export async function keepTypedStatementLine(tx: Tx, actor: Actor, input: { itemId: string; lineId: string; words: string }): Promise<void> {
	const item = await lockOwnItem(tx, actor, input.itemId);
	if (!isOpen(item.state) || !specOf(item).lines.some((line) => line.id === input.lineId)) return;
	const typed: StatementLineAnswer = { how: 'words', words: input.words, by: actor.name, at: actor.now, typing: true };
	await tx.rows(
		`update item set answer_data = coalesce(answer_data, '{}') || jsonb_build_object($2::text, $3::jsonb)
		where id = $1 and (answer_data -> $2 is null or (answer_data -> $2 ->> 'typing')::boolean)`,
		[item.id, input.lineId, JSON.stringify(typed)]
	);
	await startItem(tx, actor, item);
}

/** The answers so far, and the lines that are still open. */
async function stillOpen(tx: Tx, item: LockedItem): Promise<number> {
	const row = await tx.first<{ answers: StatementLineAnswers | null; files: string[] }>(
		`select answer_data answers, array(select distinct slot from paper where item_id = $1 and removed_at is null and slot is not null) files from item where id = $1`,
		[item.id]
	);
	return openStatementLines(
		specOf(item).lines,
		row!.answers,
		row!.files.map((slot) => ({ slot }))
	).length;
}

/** Hands in the answers about transactions. @throws DomainError invalid, saying how many lines are still open */
export async function handInStatementLines(tx: Tx, actor: Actor, itemId: string): Promise<void> {
	const item = await lockOwnItem(tx, actor, itemId);
	const open = await stillOpen(tx, item);
	if (open > 0) throw new DomainError('invalid', saying('wrong.lines.open', { count: open }));
	// words beside a file that were typed and not sent are meant too
	await tx.rows(
		`update item set answer_data = (select jsonb_object_agg(key, value - 'typing') from jsonb_each(answer_data) where value ->> 'words' <> '' or value ->> 'typing' is null)
		where id = $1 and jsonb_path_exists(answer_data, '$.*.typing')`,
		[item.id]
	);
	await moveItem(tx, actor, await loadFirm(tx), item, 'hand_in');
}

/**
 * Writes down what a client says of one line by phone. With the last one the whole is filled in.
 * @throws DomainError changed_meanwhile if somebody was faster
 */
export async function fillInLine(tx: Tx, actor: Actor, given: Given & { version: number }): Promise<void> {
	requireStaff(actor, 'judge_item');
	const item = await lockItem(tx, given.itemId);
	await requireUnchanged(tx, item, given.version);
	if (!isOpen(item.state)) throw new DomainError('changed_meanwhile', saying('wrong.item.moved', { title: item.title, state: item.state }));
	await write(tx, actor, item, given);
	const contact = await tx.first<{ name: string }>('select name from contact where id = $1', [item.contact_id]);
	if ((await stillOpen(tx, item)) > 0) {
		await recordEvent(tx, actor, {
			verb: given.answer ? 'line_filled_in' : 'line_cleared',
			clientId: item.client_id,
			contactId: item.contact_id,
			requestId: item.request_id,
			itemId: item.id,
			details: { title: item.title, contact: contact?.name ?? '' }
		});
		return;
	}
	await moveItem(tx, actor, await loadFirm(tx), item, 'fill_in', { details: { contact: contact?.name ?? '' } });
}
