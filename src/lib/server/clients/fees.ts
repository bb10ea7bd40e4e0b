import type { Fee } from '$lib/core/letters/fees';
import type { Tx } from '../platform/db/database';

/** What each running service of a client costs, as it was agreed or, where nothing was, as it usually does; each service once. */
export function readFees(tx: Tx, clientId: string): Promise<Fee[]> {
	return tx.rows<Fee>(
		`select service, amount, every from (
			select distinct on (s.id) s.position, s.name service, coalesce(es.fee, s.fee) amount, coalesce(es.fee_every, s.fee_every) every
			from engagement_service es join engagement e on e.id = es.engagement_id and e.ended_on is null join service s on s.id = es.service_id
			where es.client_id = $1 order by s.id, e.began_on desc, e.id
		) fees order by position, service`,
		[clientId]
	);
}
