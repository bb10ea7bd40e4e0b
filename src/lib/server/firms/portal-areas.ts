import { DomainError } from '$lib/core/errors/domain-error';
import { clientAreasSchema, hasArea, PORTAL_AREAS, type ClientAreas, type PortalArea } from '$lib/core/firms/portal-areas';
import { requireContact, requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import type { Tx } from '../platform/db/database';

/** Turns areas of the portal off for all clients that have no choice of their own. */
export async function changeAreas(tx: Tx, actor: Actor, on: readonly PortalArea[]): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	await tx.rows('update firm set areas_off = $2 where id = $1', [tx.firmId, PORTAL_AREAS.filter((area) => !on.includes(area))]);
	await recordEvent(tx, actor, { verb: 'firm_changed', details: { what: 'areas of the portal' } });
}

export async function readAreasOff(tx: Tx): Promise<string[]> {
	return (await tx.first<{ off: string[] }>('select areas_off off from firm where id = $1', [tx.firmId]))!.off;
}

/** A client's own choices of areas. */
export async function readClientAreas(tx: Tx, clientId: string): Promise<ClientAreas> {
	const row = await tx.first<{ areas: unknown }>('select areas from client where id = $1', [clientId]);
	if (!row) throw new DomainError('not_found', 'There is no such client.');
	return clientAreasSchema.parse(row.areas);
}

/** Chooses areas for one client; what is left out follows the firm. */
export async function changeClientAreas(tx: Tx, actor: Actor, clientId: string, areas: ClientAreas): Promise<void> {
	requireStaff(actor, 'add_client');
	if (!(await tx.first('update client set areas = $2 where id = $1 returning id', [clientId, JSON.stringify(areas)])))
		throw new DomainError('not_found', 'There is no such client.');
	await recordEvent(tx, actor, { verb: 'client_areas_changed', clientId });
}

interface AreaClient {
	id: string;
	name: string;
	state: string;
}

/** Asks for a contact's clients once; the answer tells those that have an area, by name. */
async function readAreaClients(tx: Tx, actor: Actor): Promise<(area: PortalArea) => AreaClient[]> {
	requireContact(actor);
	const off = await readAreasOff(tx);
	const clients = await tx.rows<AreaClient & { areas: unknown }>('select id, name, state, areas from client order by lower(name), id');
	return (area) =>
		clients.filter((client) => hasArea(area, off, clientAreasSchema.parse(client.areas))).map(({ id, name, state }) => ({ id, name, state }));
}

/** A contact's clients that have an area, by name. */
export async function clientsWithArea(tx: Tx, actor: Actor, area: PortalArea): Promise<AreaClient[]> {
	return (await readAreaClients(tx, actor))(area);
}

/** The areas a contact finds something in: an empty one is not shown. */
export async function areasOfContact(tx: Tx, actor: Actor): Promise<PortalArea[]> {
	const having = await readAreaClients(tx, actor);
	const shown: PortalArea[] = [];
	for (const area of PORTAL_AREAS) {
		const something = await tx.first(
			area === 'letters'
				? `select 1 from letter where client_id = any ($1) and sealed_key is not null limit 1`
				: 'select 1 from fact where client_id = any ($1) and replaced_at is null limit 1',
			[having(area).map((client) => client.id)]
		);
		if (something) shown.push(area);
	}
	return shown;
}

export interface SignedLetter {
	itemId: string;
	title: string;
	clientName: string;
	sealedAt: string;
	pages: number;
}

/** The letters a contact can read again: signed by both sides, newest first. */
export async function readSignedLetters(tx: Tx, actor: Actor): Promise<SignedLetter[]> {
	const ids = (await clientsWithArea(tx, actor, 'letters')).map((client) => client.id);
	return tx.rows<SignedLetter>(
		`select i.id as "itemId", i.title, c.name as "clientName", l.sealed_at as "sealedAt", l.pages
		from letter l join item i on i.id = l.item_id join client c on c.id = l.client_id
		where l.client_id = any ($1) and l.sealed_key is not null order by l.sealed_at desc`,
		[ids]
	);
}
