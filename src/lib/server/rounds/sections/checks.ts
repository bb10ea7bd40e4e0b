import { outcomeWords, type CheckOutcome } from '$lib/core/signing/identity-check';
import { LETTER_OPEN } from '$lib/core/signing/letter-states';
import { ofMine } from '../../clients/mine';
import type { Tx } from '../../platform/db/database';
import { itemLeaf, type ItemLeafData } from '../item-leaf';
import { COUNTED, type RoundsAt, type RoundsSectionDefinition, type SectionRow } from '../section';

/** Somebody `s` who signs a letter `l` and cannot go on: they did not show who they are. */
const STOPPED = `letter_signer s join letter l on l.id = s.letter_id
	where s.firm_id = $1 and s.check_stopped_at is not null and s.state = 'asked' and l.state in (${LETTER_OPEN.map((state) => `'${state}'`).join(', ')})`;

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
		`with oldest as (
			select s.id, s.item_id, s.client_id, s.name, s.check_stopped_at from ${STOPPED} and ${ofMine('s.client_id', 3)} order by s.check_stopped_at, s.id limit $2
		)
		select o.item_id, i.title, o.name, o.check_stopped_at since, o.client_id, cl.name client_name, k.outcome, k.score
		from oldest o join item i on i.id = o.item_id join client cl on cl.id = o.client_id
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
	count: `select count(*) from ${STOPPED} and ${ofMine('s.client_id', COUNTED.mineOf)}`,
	rows,
	leaf: { ...itemLeaf, key: 'check' }
};
