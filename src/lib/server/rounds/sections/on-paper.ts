import { ofMine } from '../../clients/mine';
import type { Tx } from '../../platform/db/database';
import { itemLeaf, type ItemLeafData } from '../item-leaf';
import { COUNTED, type RoundsAt, type RoundsSectionDefinition, type SectionRow } from '../section';

async function rows(tx: Tx, at: RoundsAt): Promise<SectionRow[]> {
	const sent = await tx.rows<{ item_id: string; title: string; name: string; since: string; client_id: string; client_name: string }>(
		`with oldest as materialized (
			select s.id, s.item_id, s.on_paper_at from paper_signer s where s.firm_id = $1 and ${ofMine('s.client_id', 3)} order by s.on_paper_at, s.id limit $2
		)
		select i.id item_id, i.title, s.name, coalesce(o.on_paper_at, i.state_at) since, i.client_id, cl.name client_name
		from oldest o join letter_signer s on s.id = o.id join item i on i.id = o.item_id join client cl on cl.id = i.client_id order by o.on_paper_at, o.id`,
		[tx.firmId, at.limit, at.mineOf]
	);
	return sent.map((one) => ({
		key: `paper-${one.item_id}`,
		itemId: one.item_id,
		clientId: one.client_id,
		clientName: one.client_name,
		since: one.since,
		words: `${one.title}: ${one.name} sent it signed by hand`,
		aside: 'goes on once you have looked'
	}));
}

export const onPaper: RoundsSectionDefinition<ItemLeafData> = {
	count: `select count(*) from paper_signer s where s.firm_id = $1 and ${ofMine('s.client_id', COUNTED.mineOf)}`,
	rows,
	leaf: { ...itemLeaf, key: 'paper' }
};
