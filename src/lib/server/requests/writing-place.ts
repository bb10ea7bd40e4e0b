import { chasePlanChoices } from '$lib/core/chasing/chase-plan';
import type { WritingPlace } from '$lib/core/requests/writing-place';
import { readServices } from '../clients/client-record';
import { readFees } from '../clients/fees';
import { readTaskLists, readTaskPeople } from '../tasks/bring-about';
import { loadFacts } from '../facts/firm-facts';
import type { Firm } from '../firms/firm';
import { readSigningPeople } from '../letters/letter-signers';
import { questionnaireChoices } from '../library/questionnaires';
import type { Tx } from '../platform/db/database';

/** What of the firm whoever writes lines and questions needs. @param clientId of the client it is written for; null where that is not known yet */
export async function readWritingPlace(tx: Tx, firm: Firm, clientId: string | null = null): Promise<WritingPlace> {
	return {
		currency: firm.currency,
		timeZone: firm.calendar.timeZone,
		services: (await readServices(tx)).map(({ name }) => name),
		facts: (await loadFacts(tx)).all,
		staff: await readTaskPeople(tx),
		lists: await readTaskLists(tx),
		questionnaires: await questionnaireChoices(tx),
		fees: clientId ? await readFees(tx, clientId) : null,
		plans: chasePlanChoices(firm),
		signing: await readSigningPeople(tx, clientId)
	};
}
