import { DomainError } from '$lib/core/errors/domain-error';
import { requireStaff, type Actor } from '../../actor';
import { recordEvent } from '../../audit/record-event';
import type { Tx } from '../../platform/db/database';
import { loadImport, requireImportMove } from './prepare-import';

/** Names told in a refusal; more are counted. */
const NAMED = 3;

/**
 * Undoes a whole import: what it added is taken out of sight, what it changed gets its earlier value, unless somebody
 * has changed it again since. History keeps that it was there.
 * @throws DomainError invalid if somebody has worked with what it added, naming whom
 */
export async function undoImport(tx: Tx, actor: Actor, importId: string): Promise<void> {
	requireStaff(actor, 'import_clients');
	const list = await loadImport(tx, importId, true);
	requireImportMove(list.state, 'undone');
	const ids = async (kind: 'client' | 'contact') =>
		(
			await tx.rows<{ id: string }>(`select ${kind}_id id from client_import_trace where import_id = $1 and kind = $2 order by 1`, [importId, kind])
		).map((row) => row.id);
	const clients = await ids('client');
	const contacts = await ids('contact');
	await tx.rows('select 1 from client where id = any ($1) order by id for update', [clients]);
	await tx.rows('select 1 from contact where id = any ($1) order by id for update', [contacts]);

	// by sets: asked of each of 20,000 clients alone it takes longer than all the rest
	const inUse = await tx.rows<{ name: string }>(
		`with trace as materialized (select kind, client_id, contact_id, engagement_id from client_import_trace where import_id = $1),
		clients as materialized (select client_id id from trace where kind = 'client'),
		people as materialized (select contact_id id from trace where kind = 'contact'),
		links as materialized (select client_id, contact_id from trace where kind = 'link'),
		worked_on as (
			select c.id from client c join clients using (id) where c.state <> 'active'
			${['request', 'paper', 'invitation', 'client_note', 'outside_signer'].map((table) => `union select t.client_id from ${table} t join clients c on c.id = t.client_id`).join(' ')}
			union select cc.client_id from client_contact cc join clients c on c.id = cc.client_id
				where (cc.client_id, cc.contact_id) not in (select client_id, contact_id from links)
			union select e.client_id from engagement e join clients c on c.id = e.client_id
				where e.id not in (select engagement_id from trace where kind = 'engagement')
		),
		people_worked_with as (
			select c.id from contact c join people using (id) where c.password_hash is not null
			${['invitation', 'message', 'outside_signer'].map((table) => `union select t.contact_id from ${table} t join people p on p.id = t.contact_id`).join(' ')}
			union select cc.contact_id from client_contact cc join people p on p.id = cc.contact_id
				where (cc.client_id, cc.contact_id) not in (select client_id, contact_id from links)
		)
		select name from client where id in (select id from worked_on) union select name from contact where id in (select id from people_worked_with) order by 1`,
		[importId]
	);
	if (inUse.length > 0) {
		const names = inUse.slice(0, NAMED).map((row) => row.name);
		const more = inUse.length - names.length;
		throw new DomainError(
			'invalid',
			`This cannot be undone any more: somebody has worked with ${names.join(', ')}${more > 0 ? ` and ${more} more` : ''} since. Nothing was changed.`
		);
	}

	const trace = `select * from client_import_trace where import_id = $1 and kind =`;
	await tx.rows(`delete from client_contact cc using (${trace} 'link') t where cc.client_id = t.client_id and cc.contact_id = t.contact_id`, [
		importId
	]);
	await tx.rows(
		`update client_contact cc set role = t.before #>> '{}' from (${trace} 'role_before') t where cc.client_id = t.client_id and cc.contact_id = t.contact_id`,
		[importId]
	);
	// an address that somebody took up an invitation with meanwhile stays
	await tx.rows(
		`update contact c set name = t.before ->> 'name', phone = t.before ->> 'phone', locale = coalesce(t.before ->> 'locale', c.locale),
			email = case when c.password_hash is null then t.before ->> 'email' else c.email end,
			mail_problem = case when c.password_hash is null then t.before ->> 'mail_problem' else c.mail_problem end
		from (${trace} 'contact_before') t where c.id = t.contact_id`,
		[importId]
	);
	await tx.rows(
		`update client c set name = t.before ->> 'name', kind = t.before ->> 'kind', responsible_id = (t.before ->> 'responsible_id')::uuid
		from (${trace} 'client_before') t where c.id = t.client_id`,
		[importId]
	);
	// a fact is taken back where it still stands; a later correction is a person's word
	const facts = await tx.rows<{ client_id: string; name: string }>(
		`update fact f set replaced_at = $2 from (${trace} 'fact') t where f.id = t.fact_id and f.replaced_at is null returning f.client_id, f.name`,
		[importId, actor.now]
	);
	await tx.rows(
		`update fact f set replaced_at = null from (
			select distinct on (f.client_id, f.name) f.id from fact f join jsonb_to_recordset($1) as r (client_id uuid, name text) on r.client_id = f.client_id and r.name = f.name
			where f.id not in (select fact_id from client_import_trace where import_id = $2 and kind = 'fact')
			order by f.client_id, f.name, f.said_at desc
		) earlier where f.id = earlier.id`,
		[JSON.stringify(facts), importId]
	);
	await tx.rows(
		`update engagement e set ended_on = began_on, ended_by = $2, end_reason = $3 from (${trace} 'engagement') t where e.id = t.engagement_id and e.ended_on is null`,
		[importId, actor.name, `the list ${list.fileName} was undone`]
	);
	await tx.rows('select remove_imported($1, $2, $3)', [clients, contacts, actor.now]);
	await tx.rows(`update client_import set state = 'undone', undone_by = $2, undone_at = $3 where id = $1`, [importId, actor.name, actor.now]);
	await recordEvent(tx, actor, {
		verb: 'list_import_undone',
		details: { importId, file: list.fileName, clients: clients.length, people: contacts.length }
	});
}
