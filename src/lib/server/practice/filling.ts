import type { Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { loadFirm, type Firm } from '../firms/firm';
import type { Tx } from '../platform/db/database';

/** A practice workspace that is to be filled: empty, with its people and services. */
export interface ToFill {
	name: string;
	calendar: Firm['calendar'];
	people: { id: string; name: string; role: Actor['role'] }[];
	services: { id: string; name: string }[];
}

/** Empties a practice workspace that is to be filled. @returns null if it is none, or was filled meanwhile */
export async function beginFilling(tx: Tx): Promise<ToFill | null> {
	const firm = await tx.first<{ state: string | null }>(
		'select practice_state as state from firm where id = $1 and practice_of_id is not null for update',
		[tx.firmId]
	);
	if (firm?.state !== 'filling') return null;
	await tx.rows(`select clear_practice('{requests,messages,clients}')`);
	const { calendar, name } = await loadFirm(tx);
	const people = await tx.rows<ToFill['people'][number]>('select id, name, role from staff order by created_at, id');
	return { calendar, name, people, services: await tx.rows('select id, name from service where ended_at is null') };
}

/** It is filled, and can be practised in. */
export async function endFilling(tx: Tx, actor: Actor): Promise<void> {
	await tx.rows(`update firm set practice_state = 'ready' where id = $1`, [tx.firmId]);
	await recordEvent(tx, actor, { verb: 'practice_filled' });
}
