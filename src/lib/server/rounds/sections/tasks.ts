import type { Tx } from '../../platform/db/database';
import { readTaskPeople } from '../../tasks/bring-about';
import { readTask, type Task } from '../../tasks/tasks';
import { COUNTED, type RoundsAt, type RoundsSectionDefinition, type SectionRow } from '../section';

/** Whoever looks only at what is theirs sees the tasks that are addressed to them, whoever looks after the client. */
async function rows(tx: Tx, at: RoundsAt): Promise<SectionRow[]> {
	const open = await tx.rows<{ id: string; words: string; client_id: string; client: string; person: string; made_at: string; title: string | null }>(
		`select t.id, t.words, t.client_id, c.name client, s.name person, t.made_at, i.title from task t join client c on c.id = t.client_id join staff s on s.id = t.staff_id left join item i on i.id = t.item_id
		where t.firm_id = $1 and t.done_at is null and ($3::uuid is null or t.staff_id = $3) order by t.made_at, t.id limit $2`,
		[tx.firmId, at.limit, at.mineOf]
	);
	return open.map((task) => ({
		key: `task-${task.id}`,
		clientId: task.client_id,
		clientName: task.client,
		since: task.made_at,
		words: task.title ? `${task.words}, from “${task.title}”` : task.words,
		aside: `for ${task.person}`
	}));
}

interface TaskLeaf {
	kind: 'task';
	task: Task;
	staff: { id: string; name: string }[];
}

export const tasks: RoundsSectionDefinition<TaskLeaf> = {
	count: `select count(*) from task t where t.firm_id = $1 and t.done_at is null and ($${COUNTED.mineOf}::uuid is null or t.staff_id = $${COUNTED.mineOf})`,
	rows,
	leaf: {
		key: 'task',
		async read(tx, actor, _firm, id) {
			return {
				kind: 'task',
				task: await readTask(tx, actor, id),
				staff: await readTaskPeople(tx)
			};
		},
		clientOf: (leaf) => leaf.task.clientId
	}
};
