import { outcomeWords, type CheckOutcome } from '$lib/core/signing/identity-check';
import { ofMine } from '../../clients/mine';
import type { Tx } from '../../platform/db/database';
import { itemLeaf, type ItemLeafData } from '../item-leaf';
import { COUNTED, type RoundsAt, type RoundsSectionDefinition, type SectionRow } from '../section';

async function rows(tx: Tx, at: RoundsAt): Promise<SectionRow[]> {
	const stopped = await tx.rows<{
		item_id: string;
		title: string;
		name: string;
		since: string;
		client_id: string;
		client_name: string;
		outcome: CheckOutcome;
		score: number | null;
	}>(
		`with oldest as materialized (
			select s.id, s.check_stopped_at from stopped_signer s where s.firm_id = $1 and ${ofMine('s.client_id', 3)} order by s.check_stopped_at, s.id limit $2
		)
		select i.id item_id, i.title, s.name, coalesce(o.check_stopped_at, i.state_at) since, s.client_id, cl.name client_name, coalesce(k.outcome, 'expired') outcome, k.score
		from oldest o join letter_signer s on s.id = o.id join item i on i.id = s.item_id join client cl on cl.id = s.client_id
			cross join lateral (select c.outcome, c.score from identity_check c where c.signer_id = o.id and c.outcome is not null order by c.begun_at desc limit 1) k
		order by o.check_stopped_at, o.id`,
		[tx.firmId, at.limit, at.mineOf]
	);
	return stopped.map((one) => ({
		key: `check-${one.item_id}`,
		itemId: one.item_id,
		clientId: one.client_id,
		clientName: one.client_name,
		since: one.since,
		words: `${one.title}: ${one.name} ${outcomeWords(one.outcome, one.score)}`,
		aside: 'cannot sign until you act'
	}));
}

export const checks: RoundsSectionDefinition<ItemLeafData> = {
	count: `select count(*) from stopped_signer s where s.firm_id = $1 and ${ofMine('s.client_id', COUNTED.mineOf)}`,
	rows,
	leaf: { ...itemLeaf, key: 'check' }
};
