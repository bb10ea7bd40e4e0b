import type { Tx } from '../platform/db/database';

/**
 * Whether what is shown in folder f, or in none, is for a person of the client; of a statement of the firm's people, whom row-level security
 * shows every folder.
 */
export const openTo = (contact: string): string => `(f.id is null or f.client_may <> 'nothing' and (not f.for_some
	or exists (select from folder_contact fc where fc.folder_id = f.id and fc.contact_id = ${contact})))`;

/** Whether a person of the client has opened paper p. */
export const openedBy = (
	contact: string
): string => `exists (select from event e where e.paper_id = p.id and e.actor_kind = 'contact' and e.actor_id = ${contact}
	and e.verb in ('paper_opened', 'paper_downloaded'))`;

/**
 * Takes the papers of which somebody is still to be told, of clients the firm works for just now, as told: whoever calls this names them in
 * the message that goes. What they have found and opened by themselves, and what is not theirs to see any more, is not named.
 */
export async function takePapersToTell(tx: Tx, contactId: string, now: string): Promise<{ id: string; clientId: string; client: string }[]> {
	const taken = await tx.rows<{ id: string; clientId: string; client: string; named: boolean }>(
		`update paper_announcement a set told_at = $2 from paper p join client cl on cl.id = p.client_id and cl.state = 'active' left join folder f on f.id = p.folder_id
		where a.contact_id = $1 and a.told_at is null and p.id = a.paper_id
		returning p.id, p.client_id "clientId", cl.name client, p.removed_at is null and p.shown_at is not null and p.newer_id is null
			and ${openTo('$1')} and not ${openedBy('$1')} named`,
		[contactId, now]
	);
	return taken.filter(({ named }) => named).map(({ id, clientId, client }) => ({ id, clientId, client }));
}

/** Papers of which a message would have told that does not go: they are told with the next one. */
export async function tellPapersLater(tx: Tx, contactId: string | null, paperIds: readonly string[] = []): Promise<void> {
	if (paperIds.length > 0)
		await tx.rows('update paper_announcement set told_at = null where contact_id = $1 and paper_id = any ($2)', [contactId, paperIds]);
}

/** The names of papers that a message tells somebody of, as long as they see them. */
export async function papersToName(tx: Tx, contactId: string, paperIds: readonly string[]): Promise<string[]> {
	if (paperIds.length === 0) return [];
	const papers = await tx.rows<{ name: string }>(
		`select p.name from paper p left join folder f on f.id = p.folder_id
		where p.id = any ($2) and p.removed_at is null and p.shown_at is not null
			and ${openTo('$1')}
		order by array_position($2, p.id)`,
		[contactId, paperIds]
	);
	return papers.map(({ name }) => name);
}
