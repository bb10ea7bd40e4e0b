import type { WritingPlace } from '$lib/core/requests/writing-place';
import { readServices } from '../clients/client-record';
import { TASK_ROLES } from '../tasks/bring-about';
import { loadFacts } from '../facts/firm-facts';
import type { Firm } from '../firms/firm';
import { questionnaireChoices } from '../library/questionnaires';
import type { Tx } from '../platform/db/database';

/** What of the firm whoever writes lines and questions needs. */
export async function readWritingPlace(tx: Tx, firm: Firm): Promise<WritingPlace> {
	return {
		currency: firm.currency,
		timeZone: firm.calendar.timeZone,
		services: (await readServices(tx)).map(({ name }) => name),
		facts: (await loadFacts(tx)).all,
		staff: await tx.rows<{ id: string; name: string }>(
			'select id, name from staff where firm_id = $1 and suspended_at is null and role = any ($2) order by lower(name), id',
			[tx.firmId, TASK_ROLES]
		),
		lists: await tx.rows<{ id: string; name: string }>(
			`select id, name from request_list where firm_id = $1 and ended_at is null and shared = 'all' order by lower(name), id`,
			[tx.firmId]
		),
		questionnaires: await questionnaireChoices(tx)
	};
}
