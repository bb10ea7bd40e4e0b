import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { DomainError } from '$lib/core/errors/domain-error';
import { oneLine } from '$lib/core/people/plain-fields';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import type { Tx } from '../platform/db/database';

export const groupSchema = z.object({ name: oneLine('a name for the group', 60), members: z.array(z.uuid()).max(500) });

export interface StaffGroup {
	id: string;
	name: string;
	members: { id: string; name: string }[];
}

/** The firm's groups, by name, with who is in them. */
export function readGroups(tx: Tx): Promise<StaffGroup[]> {
	return tx.rows<StaffGroup>(
		`select g.id, g.name, coalesce(json_agg(json_build_object('id', s.id, 'name', s.name) order by s.name) filter (where s.id is not null), '[]') members
		from staff_group g left join staff_group_member m on m.group_id = g.id left join staff s on s.id = m.staff_id
		where g.firm_id = $1 group by g.id order by lower(g.name)`,
		[tx.firmId]
	);
}

/**
 * Makes a group, or gives one another name and other members.
 * @throws DomainError invalid if the name is taken, not_found
 */
export async function writeGroup(tx: Tx, actor: Actor, id: string | null, input: z.output<typeof groupSchema>): Promise<string> {
	requireStaff(actor, 'set_up_firm');
	const taken = await tx.first('select 1 from staff_group where firm_id = $1 and lower(name) = lower($2) and id is distinct from $3', [
		tx.firmId,
		input.name,
		id
	]);
	if (taken) throw new DomainError('invalid', `There is a group “${input.name}” already.`, { name: 'There is a group of this name already.' });
	const groupId = id ?? randomUUID();
	if (id) {
		if (!(await tx.first('update staff_group set name = $2 where id = $1 returning id', [id, input.name])))
			throw new DomainError('not_found', 'There is no such group.');
		await tx.rows('delete from staff_group_member where group_id = $1', [id]);
	} else
		await tx.rows('insert into staff_group (id, firm_id, name, created_at) values ($1, $2, $3, $4)', [groupId, tx.firmId, input.name, actor.now]);
	await tx.rows('insert into staff_group_member (firm_id, group_id, staff_id) select $1, $2, id from staff where id = any ($3)', [
		tx.firmId,
		groupId,
		input.members
	]);
	await recordEvent(tx, actor, { verb: id ? 'group_changed' : 'group_made', details: { name: input.name } });
	return groupId;
}

/** Ends a group. What was shared with it stays with whoever made it. */
export async function endGroup(tx: Tx, actor: Actor, id: string): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	await tx.rows(`update message_text set shared = 'person', group_id = null where group_id = $1`, [id]);
	const gone = await tx.first<{ name: string }>('delete from staff_group where id = $1 returning name', [id]);
	if (gone) await recordEvent(tx, actor, { verb: 'group_ended', details: { name: gone.name } });
}
