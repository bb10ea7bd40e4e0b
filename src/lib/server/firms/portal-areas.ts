import { DomainError } from '$lib/core/errors/domain-error';
import {
	areaServicesSchema,
	clientAreasSchema,
	hasArea,
	PORTAL_AREAS,
	proposedArea,
	type ClientAreas,
	type FirmAreas,
	type PortalArea
} from '$lib/core/firms/portal-areas';
import { requireContact, requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import type { Tx } from '../platform/db/database';
import { requireServices } from './services';

/** Chooses for whom each area of the portal is; a client's own choice stays. */
export async function changeAreas(tx: Tx, actor: Actor, areas: FirmAreas): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	await requireServices(tx, Object.values(areas.services).flat());
	await tx.rows('update firm set areas_off = $2, area_services = $3 where id = $1', [tx.firmId, areas.off, JSON.stringify(areas.services)]);
	await recordEvent(tx, actor, { verb: 'firm_changed', details: { what: 'areas of the portal' } });
}

interface FirmAreasRow {
	areas_off: string[];
	area_services: unknown;
}
const asFirmAreas = (row: FirmAreasRow): FirmAreas => ({ off: row.areas_off, services: areaServicesSchema.parse(row.area_services) });

export async function readFirmAreas(tx: Tx): Promise<FirmAreas> {
	return asFirmAreas((await tx.first<FirmAreasRow>('select areas_off, area_services from firm where id = $1', [tx.firmId]))!);
}

/** Ids of the services of a client's running engagements, for a statement about client c. */
const SERVICES_OF_CLIENT = `array(select es.service_id from engagement_service es join engagement e on e.id = es.engagement_id and e.ended_on is null
	where es.client_id = c.id)`;

/** A client's own choices of areas, and what they find without one: what their services propose. */
export async function readClientAreas(tx: Tx, clientId: string): Promise<{ own: ClientAreas; proposed: PortalArea[] }> {
	const row = await tx.first<{ areas: unknown; services: string[] }>(`select c.areas, ${SERVICES_OF_CLIENT} services from client c where c.id = $1`, [
		clientId
	]);
	if (!row) throw new DomainError('not_found', 'There is no such client.');
	const firm = await readFirmAreas(tx);
	return { own: clientAreasSchema.parse(row.areas), proposed: PORTAL_AREAS.filter((area) => proposedArea(area, firm, row.services)) };
}

/** Chooses areas for one client; what is left out follows their services and the firm. */
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
	const clients = await tx.rows<AreaClient & FirmAreasRow & { areas: unknown; services: string[] }>(
		`select c.id, c.name, c.state, c.areas, ${SERVICES_OF_CLIENT} services, f.areas_off, f.area_services from client c join firm f on f.id = c.firm_id order by lower(c.name), c.id`
	);
	if (clients.length === 0) return () => [];
	const firm = asFirmAreas(clients[0]);
	return (area) =>
		clients
			.filter((client) => hasArea(area, firm, clientAreasSchema.parse(client.areas), client.services))
			.map(({ id, name, state }) => ({ id, name, state }));
}

/** A contact's clients that have an area, by name. */
export async function clientsWithArea(tx: Tx, actor: Actor, area: PortalArea): Promise<AreaClient[]> {
	return (await readAreaClients(tx, actor))(area);
}

/** Whether form f is in use and for client c: for all clients, or for one of the services of their running engagements. */
export const FORM_OF_CLIENT = `f.ended_at is null and (f.services = '{}' or f.services && ${SERVICES_OF_CLIENT})`;

/** Whether an area holds something for clients. */
const SOMETHING_IN: Record<PortalArea, (clients: string) => string> = {
	// a folder that is not open to them is not there for them
	papers: (
		clients
	) => `select from paper p where p.client_id = any (${clients}::uuid[]) and p.shown_at is not null and p.removed_at is null and p.place in ('item', 'kept')
			and (p.folder_id is null or exists (select from folder f where f.id = p.folder_id))
		union all select from folder where client_id = any (${clients}::uuid[]) and client_may = 'add'`,
	letters: (clients) => `select from letter where client_id = any (${clients}::uuid[]) and sealed_key is not null
		union all select from signed_answers where client_id = any (${clients}::uuid[]) and sealed_key is not null`,
	facts: (clients) => `select from fact where client_id = any (${clients}::uuid[]) and replaced_at is null`,
	forms: (clients) => `select from client_form f, client c where c.id = any (${clients}::uuid[]) and c.state = 'active' and ${FORM_OF_CLIENT}`
};

/** The areas a contact finds something in: an empty one is not shown. */
export async function areasOfContact(tx: Tx, actor: Actor): Promise<PortalArea[]> {
	const having = await readAreaClients(tx, actor);
	const found = await tx.first<Record<PortalArea, boolean>>(
		`select ${PORTAL_AREAS.map((area, i) => `exists (${SOMETHING_IN[area](`$${i + 1}`)}) ${area}`).join(', ')}`,
		PORTAL_AREAS.map((area) => having(area).map((client) => client.id))
	);
	return PORTAL_AREAS.filter((area) => found![area]);
}

export interface SignedLetter {
	itemId: string;
	title: string;
	clientName: string;
	sealedAt: string;
	/** of a letter; null for answers */
	pages: number | null;
}

/** What a contact can read again: letters that all have signed, and the answers that were signed last, newest first. */
export async function readSignedLetters(tx: Tx, actor: Actor): Promise<SignedLetter[]> {
	const ids = (await clientsWithArea(tx, actor, 'letters')).map((client) => client.id);
	return tx.rows<SignedLetter>(
		`select i.id as "itemId", i.title, c.name as "clientName", l.sealed_at as "sealedAt", l.pages
		from letter l join item i on i.id = l.item_id join client c on c.id = l.client_id
		where l.client_id = any ($1) and l.sealed_key is not null
		union all (select distinct on (s.item_id) s.item_id, s.title, c.name, s.sealed_at, null
			from signed_answers s join client c on c.id = s.client_id where s.client_id = any ($1) and s.sealed_key is not null order by s.item_id, s.signed_at desc)
		order by "sealedAt" desc`,
		[ids]
	);
}
