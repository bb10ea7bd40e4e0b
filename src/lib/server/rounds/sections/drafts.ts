import { ofMine } from '../../clients/mine';
import type { Tx } from '../../platform/db/database';
import { readDraft, type Draft } from '../../drafts/drafts';
import { COUNTED, type RoundsAt, type RoundsSectionDefinition, type SectionRow } from '../section';

async function rows(tx: Tx, at: RoundsAt): Promise<SectionRow[]> {
	const drafts = await tx.rows<{
		id: string;
		title: string;
		lines: number;
		since: string;
		client_id: string;
		client_name: string;
		list: string | null;
	}>(
		`with oldest as materialized (
			select d.id from request_draft d where d.firm_id = $1 and d.waits and d.removed_at is null
				and exists (select from client cl where cl.id = d.client_id and cl.state = 'active') and ${ofMine('d.client_id', 3)}
			order by d.made_at, d.place limit $2
		)
		select d.id, d.title, d.lines, d.made_at since, d.client_id, cl.name client_name, l.name list
		from request_draft d join client cl on cl.id = d.client_id left join request_list l on l.id = d.list_id
		where d.id = any (array(select id from oldest)) order by d.made_at, d.place`,
		[tx.firmId, at.limit, at.mineOf]
	);
	return drafts.map((draft) => ({
		key: `draft-${draft.id}`,
		clientId: draft.client_id,
		clientName: draft.client_name,
		since: draft.since,
		words: draft.title || 'Untitled request',
		aside: `${draft.lines} ${draft.lines === 1 ? 'line' : 'lines'}`
	}));
}

interface DraftLeaf {
	kind: 'draft';
	draft: Draft;
}

export const drafts: RoundsSectionDefinition<DraftLeaf> = {
	count: `select count(*) from request_draft where firm_id = $1 and waits and removed_at is null and client_id not in (select id from closed)
		and ${ofMine('client_id', COUNTED.mineOf)}`,
	rows,
	leaf: {
		key: 'draft',
		read: async (tx, actor, _firm, id) => ({ kind: 'draft', draft: await readDraft(tx, actor, id) }),
		clientOf: (leaf) => leaf.draft.clientId
	}
};
