import type { Answer } from '$lib/core/items/answers';
import { factOf } from '$lib/core/items/questions';
import type { Actor } from '../../actor';
import { noteAnsweredFact } from '../../clients/client-facts';
import { lockClient } from '../../clients/client-record';
import { loadFacts } from '../../facts/firm-facts';
import { loadFirm } from '../../firms/firm';
import type { Tx } from '../../platform/db/database';

/** Answers that are also facts are kept as such, said by whoever answered or by whoever of the firm writes it down: they are never asked again. */
export async function keepFacts(
	tx: Tx,
	actor: Actor,
	item: { id: string; client_id: string },
	answers: readonly { fact: string | null; answer: Answer }[]
): Promise<void> {
	if (!answers.some(({ fact }) => fact)) return;
	const [facts, { country }] = [await loadFacts(tx), await loadFirm(tx)];
	if (actor.kind === 'staff') await lockClient(tx, item.client_id);
	for (const { fact, answer } of answers) {
		// a fact that is gone is only an answer
		const definition = fact ? facts.get(fact) : undefined;
		const value = definition ? factOf(definition, answer, { country }) : null;
		if (definition && value !== null) await noteAnsweredFact(tx, actor, { clientId: item.client_id, definition, value, itemId: item.id });
	}
}
