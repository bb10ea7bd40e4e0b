import type { PlaceOnPage } from '$lib/core/statements/printed/page-lines';
import { offBy, type StatementValue } from '$lib/core/statements/printed/read-printed';
import type { ItemState } from '$lib/core/requests/item-states';
import { requireStaff, type Actor } from '../actor';
import type { Tx } from '../platform/db/database';

/** A statement that is here, with what was read of it and where that stands. */
export interface StatementRead {
	/** null for a paper in which nothing could be read */
	id: string | null;
	paperId: string;
	name: string;
	contentType: string;
	pages: number | null;
	/** its words were looked for */
	looked: boolean;
	/** it has words */
	words: boolean;
	accountId: string | null;
	from: string | null;
	to: string | null;
	opening: string | null;
	closing: string | null;
	currency: string | null;
	payments: number | null;
	/** what its payments are off by between opening and closing; null where that is not known */
	off: string | null;
	spots: Partial<Record<StatementValue, PlaceOnPage>>;
	explained: string;
	putRightBy: string | null;
	itemId: string | null;
	itemTitle: string | null;
	itemState: ItemState | null;
	uploadedAt: string;
	/** dealt with without anything that was asked */
	kept: boolean;
}

/** Some statements and papers of a client: those by their ids, and whatever came for an item. */
export async function readStatementsOf(
	tx: Tx,
	actor: Actor,
	clientId: string,
	wanted: { statementIds: readonly string[]; itemId: string | null }
): Promise<StatementRead[]> {
	requireStaff(actor, 'look');
	const rows = await tx.rows<Omit<StatementRead, 'off'> & { sum: string | null }>(
		`select s.id, p.id "paperId", p.name, p.content_type "contentType", p.pages, p.words_read_at is not null looked, p.first_words is not null words,
			ps.account_id "accountId", s.covers_from "from", s.covers_to "to", s.opening, s.closing, s.currency, s.payments, s.payments_sum sum,
			coalesce(s.spots, '{}') spots, coalesce(s.explained, '') explained, st.name "putRightBy", p.item_id "itemId", i.title "itemTitle", i.state "itemState",
			p.uploaded_at "uploadedAt", p.kept
		from paper p left join statement s on s.paper_id = p.id left join placed_statement ps on ps.id = s.id left join item i on i.id = p.item_id
			left join staff st on st.id = s.put_right_by_id
		where p.client_id = $1 and p.removed_at is null and (p.put_away_at is null or p.kept) and (s.id = any ($2) or p.item_id = $3)
		order by s.covers_from nulls last, p.uploaded_at, p.id, s.number limit 50`,
		[clientId, wanted.statementIds, wanted.itemId]
	);
	return rows.map(({ sum, ...row }) => ({
		...row,
		off: offBy({ opening: row.opening, closing: row.closing, lines: sum === null ? null : { sum } })
	}));
}
