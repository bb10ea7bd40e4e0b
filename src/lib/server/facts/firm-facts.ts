import { firmFacts, SEEN_BY, type FactDefinition, type FirmFacts } from '$lib/core/facts/fact-definition';
import { may } from '$lib/core/people/roles';
import type { Actor } from '../actor';
import type { Tx } from '../platform/db/database';

/** All that the firm wants to know of its clients, in the order of the record. For anybody: what it is called is no secret. */
export async function loadFacts(tx: Tx): Promise<FirmFacts> {
	return firmFacts(
		await tx.rows<FactDefinition>(
			`select name, label, hint, heading, kind as "is", ready_made as "readyMade", client_may as "clientMay", seen_by as "seenBy", secret,
				confirm_after as "confirmAfter", retired_at is not null as retired, merged_into as "mergedInto"
			from fact_definition where firm_id = $1 order by position, lower(label), name`,
			[tx.firmId]
		)
	);
}

/** Whether a fact is shown to somebody as it stands: they may see it, and it is no secret that is shown on asking alone. */
export const isShownTo = (actor: Actor, fact: FactDefinition): boolean => !fact.secret && maySeeFact(actor, fact);

/** Whether somebody may know what is known: a contact what clients may see, somebody of the firm by their role. */
export function maySeeFact(actor: Actor, fact: FactDefinition): boolean {
	return actor.kind === 'contact' ? fact.clientMay !== 'nothing' && !fact.secret : may(actor.role, SEEN_BY[fact.seenBy].act);
}
