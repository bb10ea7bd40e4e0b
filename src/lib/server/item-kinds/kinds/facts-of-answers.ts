import type { FactName } from '$lib/core/clients/facts';
import type { Answer } from '$lib/core/items/answers';
import { factOf } from '$lib/core/items/questions';
import type { Actor } from '../../actor';
import { noteAnsweredFact, sayFact } from '../../clients/client-record';
import type { Tx } from '../../platform/db/database';

/** An answer that is also a fact is kept as one, said by whoever answered or by whoever of the firm writes it down: it is never asked again. */
export async function keepFact(tx: Tx, actor: Actor, item: { client_id: string }, name: FactName | null, answer: Answer): Promise<void> {
	const value = name && factOf(name, answer);
	if (!name || value === null) return;
	await (actor.kind === 'staff' ? sayFact : noteAnsweredFact)(tx, actor, { clientId: item.client_id, name, value });
}
