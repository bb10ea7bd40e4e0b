import { DomainError } from '$lib/core/errors/domain-error';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import type { Tx } from '../platform/db/database';
import { TASK_ROLES } from './bring-about';

export interface Task {
	id: string;
	words: string;
	/** the question whose answer brought it about */
	because: string;
	clientId: string;
	clientName: string;
	/** the answers; null if they are gone */
	itemId: string | null;
	itemTitle: string;
	/** whose it is */
	staffId: string;
	staffName: string;
	madeAt: string;
}

/** A task that is not done. @throws DomainError not_found */
export async function readTask(tx: Tx, actor: Actor, id: string): Promise<Task> {
	requireStaff(actor, 'look');
	const task = await tx.first<Task>(
		`select t.id, t.words, t.because, t.client_id "clientId", c.name "clientName", t.item_id "itemId", coalesce(i.title, '') "itemTitle", t.staff_id "staffId",
			s.name "staffName", t.made_at "madeAt"
		from task t join client c on c.id = t.client_id join staff s on s.id = t.staff_id left join item i on i.id = t.item_id where t.id = $1 and t.done_at is null`,
		[id]
	);
	if (!task) throw new DomainError('not_found', 'Somebody has done this by now.');
	return task;
}

/** Says that a task is done, or not needed. */
export async function finishTask(tx: Tx, actor: Actor, id: string): Promise<void> {
	requireStaff(actor, 'judge_item');
	const task = await readTask(tx, actor, id);
	await tx.rows('update task set done_at = $2, done_by_id = $3 where id = $1', [id, actor.now, actor.id]);
	await recordEvent(tx, actor, { verb: 'task_done', clientId: task.clientId, itemId: task.itemId, details: { words: task.words } });
}

/** Gives a task to somebody else of the firm. @throws DomainError invalid for who is not there */
export async function giveTask(tx: Tx, actor: Actor, id: string, staffId: string): Promise<void> {
	requireStaff(actor, 'judge_item');
	const task = await readTask(tx, actor, id);
	const person = await tx.first<{ name: string }>('select name from staff where id = $1 and suspended_at is null and role = any ($2)', [
		staffId,
		TASK_ROLES
	]);
	if (!person) throw new DomainError('invalid', 'Choose somebody of the firm.', { staffId: 'Choose somebody of the firm.' });
	await tx.rows('update task set staff_id = $2 where id = $1', [id, staffId]);
	await recordEvent(tx, actor, {
		verb: 'task_given',
		clientId: task.clientId,
		itemId: task.itemId,
		details: { words: task.words, person: person.name }
	});
}
