import { requireContact, type Actor } from '../actor';
import { clientsWithArea } from '../firms/portal-areas';
import { openedBy } from '../outbox/papers-to-tell';
import type { Tx } from '../platform/db/database';

/** Papers that are shown on one page of the portal. */
const MOST = 500;

/** A paper that the firm shows to somebody. */
export interface ShownPaper {
	id: string;
	name: string;
	bytes: number;
	note: string;
	/** when it was shown to them, or they sent it */ at: string;
	clientName: string;
	folder: string | null;
	/** they have not opened it yet */ isNew: boolean;
	/** they sent it into this folder, and the firm has it */ mine: boolean;
	/** earlier versions that they saw, the newest first */
	earlier: { id: string; name: string; at: string }[];
}

/**
 * What the firm shows to somebody, of all their clients, by folder and the newest first in each; with what they themselves put into a folder.
 * @param typed words that must stand in a name, a note, a folder or inside; empty for all
 */
export async function readShownPapers(tx: Tx, actor: Actor, typed = ''): Promise<ShownPaper[]> {
	requireContact(actor);
	const clients = (await clientsWithArea(tx, actor, 'papers')).map(({ id }) => id);
	return tx.rows<ShownPaper>(
		// of a folder that is not open to them the row-level security of folders lets nothing through
		`select p.id, p.name, p.bytes, case when p.given_by_id is not null or p.uploaded_by_contact_id = $2 then p.note else '' end note,
			coalesce(p.shown_at, p.uploaded_at) "at", c.name "clientName", f.name folder, p.shown_at is null mine,
			p.shown_at is not null and not ${openedBy('$2')} "isNew",
			coalesce((select jsonb_agg(jsonb_build_object('id', o.id, 'name', o.name, 'at', o.shown_at) order by o.uploaded_at desc)
				from paper o where o.newer_id = p.id and o.shown_at is not null and o.removed_at is null), '[]') earlier
		from paper p join client c on c.id = p.client_id left join folder f on f.id = p.folder_id
		where p.client_id = any ($1) and p.removed_at is null and p.newer_id is null and (p.folder_id is null or f.id is not null)
			and (p.shown_at is not null and p.place in ('item', 'kept') or p.folder_id is not null and p.uploaded_by_contact_id = $2 and p.item_id is null and p.place <> 'away')
			and ($3 = '' or p.search @@ paper_query($3))
		order by lower(f.name) nulls first, "at" desc, p.id limit $4`,
		[clients, actor.id, typed.trim(), MOST]
	);
}

/** How many papers are shown to somebody that they have not opened yet. */
export async function countNewPapers(tx: Tx, actor: Actor): Promise<number> {
	requireContact(actor);
	const count = await tx.first<{ n: number }>(
		`select count(*) n from paper p left join folder f on f.id = p.folder_id
		where p.firm_id = $1 and p.shown_at is not null and p.removed_at is null and p.newer_id is null and p.place in ('item', 'kept')
			and (p.folder_id is null or f.id is not null) and not ${openedBy('$2')}`,
		[tx.firmId, actor.id]
	);
	return count!.n;
}

/** The folders into which somebody may put something, by client and name. */
export async function readFoldersToAddTo(tx: Tx, actor: Actor): Promise<{ id: string; name: string; clientId: string; clientName: string }[]> {
	requireContact(actor);
	const clients = (await clientsWithArea(tx, actor, 'papers')).filter(({ state }) => state === 'active').map(({ id }) => id);
	return tx.rows(
		`select f.id, f.name, c.id "clientId", c.name "clientName" from folder f join client c on c.id = f.client_id
		where f.client_id = any ($1) and f.client_may = 'add' order by lower(c.name), lower(f.name)`,
		[clients]
	);
}
