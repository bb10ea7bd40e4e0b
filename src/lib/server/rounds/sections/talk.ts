import type { Tx } from '../../platform/db/database';
import { itemLeaf, type ItemLeafData } from '../item-leaf';
import { COUNTED, type RoundsAt, type RoundsSectionDefinition, type SectionRow } from '../section';
import { byAndGiven, GIVEN_TO, notPutOff, theirsToAnswer, type ToAnswerRow } from '../to-answer';

/** A remark `m` of a client that nobody saw yet; what is pinned to a file belongs to what they say of it, once that has come in. */
const UNANSWERED = `m.seen_at is null and m.contact_id is not null and not (m.attachment_id is not null and i.state in ('handed_in', 'answered_no'))`;

async function rows(tx: Tx, at: RoundsAt): Promise<SectionRow[]> {
	const talk = await tx.rows<ToAnswerRow & { item_id: string; title: string }>(
		`with oldest as (
			select distinct on (m.item_id) m.item_id, m.client_id, m.contact_id, m.words, m.written_at, m.given_by, ${GIVEN_TO} from remark m join item i on i.id = m.item_id
			where m.firm_id = $1 and ${UNANSWERED} and ${notPutOff('$4')} and ${theirsToAnswer(3)} order by m.item_id, m.written_at
		)
		select i.id item_id, i.title, o.words, o.written_at since, o.client_id, cl.name client_name, c.name as by,
			o.given_to, g.name given_name, o.given_by
		from oldest o join item i on i.id = o.item_id join client cl on cl.id = o.client_id join contact c on c.id = o.contact_id
			left join staff g on g.id = o.given_to order by o.written_at, o.item_id limit $2`,
		[tx.firmId, at.limit, at.mineOf, at.today]
	);
	return talk.map((one) => ({
		key: `talk-${one.item_id}`,
		itemId: one.item_id,
		clientId: one.client_id,
		clientName: one.client_name,
		since: one.since,
		words: `${one.title}: “${one.words}”`,
		aside: byAndGiven(one, at.reader)
	}));
}

export const talk: RoundsSectionDefinition<ItemLeafData> = {
	count: `select count(distinct m.item_id) from remark m join item i on i.id = m.item_id
		where m.firm_id = $1 and ${UNANSWERED} and ${notPutOff(COUNTED.today)} and ${theirsToAnswer(COUNTED.mineOf)}`,
	rows,
	leaf: { ...itemLeaf, key: 'talk' }
};
