import { DomainError } from '$lib/core/errors/domain-error';
import type { Tx } from '../../platform/db/database';
import { readTalk, type TalkToRead } from '../../talk/words';
import { COUNTED, type RoundsAt, type RoundsSectionDefinition, type SectionRow } from '../section';
import { byAndGiven, GIVEN_TO, notPutOff, theirsToAnswer, type ToAnswerRow } from '../to-answer';

/** Words `m` about nothing that was asked, which nobody of the firm has seen. */
const UNSEEN = 'm.seen_at is null and m.contact_id is not null and m.item_id is null';

async function rows(tx: Tx, at: RoundsAt): Promise<SectionRow[]> {
	const talks = await tx.rows<ToAnswerRow & { id: string; n: number }>(
		`with oldest as (
			select distinct on (m.client_id, m.with_contact_id) m.id, m.client_id, m.with_contact_id, m.words, m.written_at, m.given_by,
				${GIVEN_TO}, count(*) over (partition by m.client_id, m.with_contact_id) n
			from remark m where m.firm_id = $1 and ${UNSEEN} and ${notPutOff('$4')} and ${theirsToAnswer(3)} order by m.client_id, m.with_contact_id, m.number
		)
		select o.id, o.words, o.written_at since, o.n, o.client_id, cl.name client_name, c.name as by, o.given_to, g.name given_name, o.given_by
		from oldest o join client cl on cl.id = o.client_id join contact c on c.id = o.with_contact_id
			left join staff g on g.id = o.given_to order by o.written_at, o.id limit $2`,
		[tx.firmId, at.limit, at.mineOf, at.today]
	);
	return talks.map((one) => ({
		key: `words-${one.id}`,
		clientId: one.client_id,
		clientName: one.client_name,
		since: one.since,
		words: `“${one.words}”${one.n > 1 ? ` and ${one.n - 1} more` : ''}`,
		aside: byAndGiven(one, at.reader)
	}));
}

interface WordsLeaf extends TalkToRead {
	kind: 'words';
}

export const words: RoundsSectionDefinition<WordsLeaf> = {
	count: `select count(distinct (m.client_id, m.with_contact_id)) from remark m where m.firm_id = $1 and ${UNSEEN} and ${notPutOff(COUNTED.today)} and ${theirsToAnswer(COUNTED.mineOf)}`,
	rows,
	leaf: {
		key: 'words',
		async read(tx, actor, _firm, id) {
			const of = await tx.first<{ clientId: string; contactId: string }>(
				`select m.client_id "clientId", c.id "contactId" from remark m join contact c on c.id = m.with_contact_id where m.id = $1 and ${UNSEEN}`,
				[id]
			);
			if (!of) throw new DomainError('not_found', 'Somebody has answered this, or read it, by now.');
			return { kind: 'words', ...(await readTalk(tx, actor, of)) };
		},
		clientOf: (leaf) => leaf.talk.clientId
	}
};
