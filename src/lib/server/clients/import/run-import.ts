import { randomUUID } from 'node:crypto';
import { DomainError } from '$lib/core/errors/domain-error';
import type { RowPlan, Target } from '$lib/core/clients/import/plan-import';
import { localDate } from '$lib/core/calendar/firm-calendar';
import type { Role } from '$lib/core/people/roles';
import { requireStaff, type Actor } from '../../actor';
import { recordEvent, recordEvents, type NewEvent } from '../../audit/record-event';
import { loadFirm } from '../../firms/firm';
import { asStaff, type Tx } from '../../platform/db/database';
import { enqueue } from '../../platform/queue';
import { loadImport, planImportAnew, planImportNow, requireImportMove, type ImportPlace, type ImportRecord } from './prepare-import';

/**
 * Puts a list that was looked at on its way into the clients.
 * @throws DomainError invalid while rows are wrong or in doubt
 */
export async function startImport(tx: Tx, actor: Actor, importId: string): Promise<void> {
	requireStaff(actor, 'import_clients');
	const list = await loadImport(tx, importId, true);
	requireImportMove(list.state, 'running');
	const { wrong, ask, create, update } = list.counts;
	if (wrong + ask > 0)
		throw new DomainError(
			'invalid',
			`${wrong + ask} ${wrong + ask === 1 ? 'row needs' : 'rows need'} you first: put them right, decide, or leave them out.`
		);
	if (create + update === 0) throw new DomainError('invalid', 'Nothing in this list is new. There is nothing to import.');
	await tx.rows(`update client_import set state = 'running', progress = 0, stop_wanted = false, trouble = null, done_by = $2 where id = $1`, [
		importId,
		actor.name
	]);
	await enqueue(tx, 'run_import', { firmId: tx.firmId, importId, staffId: actor.id! });
}

/** Asks a running import to stop; everything is then as it was before. */
export async function stopImport(tx: Tx, actor: Actor, importId: string): Promise<void> {
	requireStaff(actor, 'import_clients');
	requireImportMove((await loadImport(tx, importId)).state, 'ready');
	await tx.rows('update client_import set stop_wanted = true where id = $1', [importId]);
}

class Stopped extends Error {}
class PlanChanged extends Error {}

/**
 * Brings a list in, all of it or nothing, in one transaction. What is done is what was looked at: if the clients have
 * changed since, nothing is, and the plan is made anew. May be stopped at any line and run again.
 */
export async function runImport(place: ImportPlace, firmId: string, importId: string, staffId: string, now: string): Promise<void> {
	const { list, actor } = await place.db.inFirm(firmId, async (tx) => {
		const staff = await tx.first<{ id: string; name: string; role: Role }>('select id, name, role from staff where id = $1', [staffId]);
		if (!staff) throw new Error('who began the import is not there');
		return { list: await loadImport(tx, importId), actor: { kind: 'staff' as const, ...staff, now, ip: '', userAgent: '' } };
	});
	if (list.state !== 'running') return;
	try {
		await asStaff(place.db, list.begunById).inFirm(firmId, async (tx) => {
			// two lists at once: the second is planned again once the first is in
			await tx.rows(`select pg_advisory_xact_lock(hashtext($1))`, [`import ${firmId}`]);
			if ((await loadImport(tx, importId)).state !== 'running') return;
			const plan = await planImportNow(place, firmId, list);
			if (plan.mark !== list.planMark) throw new PlanChanged();
			await writePlan(place, tx, actor, list, plan.batches);
			const { create, newClients, newPeople, update } = plan.counts;
			await tx.rows(`update client_import set state = 'done', done_at = $2, progress = $3 where id = $1`, [importId, now, create + update]);
			await recordEvent(tx, actor, {
				verb: 'list_imported',
				details: { importId, file: list.fileName, clients: newClients, people: newPeople, changed: update }
			});
		});
	} catch (cause) {
		const closed = cause instanceof DomainError && cause.code === 'not_allowed';
		if (!(cause instanceof Stopped || cause instanceof PlanChanged || closed)) throw cause;
		const trouble =
			cause instanceof Stopped
				? 'Stopped. Nothing was imported.'
				: closed
					? 'Nothing was imported: the list would change a client you may only look at. Leave that row out, or ask whoever looks after the client.'
					: 'The clients have changed since you looked, so nothing was imported. This is what the list would do now.';
		await place.db.inFirm(firmId, (tx) =>
			tx.rows(`update client_import set state = 'ready', trouble = $2, progress = 0, done_by = null where id = $1 and state = 'running'`, [
				importId,
				trouble
			])
		);
		await planImportAnew(place, firmId, list);
		await place.db.inFirm(firmId, (tx) => recordEvent(tx, actor, { verb: 'list_import_stopped', details: { importId, file: list.fileName } }));
	}
}

/** Notes how far an import is, where others can see it, and hears whether it shall stop. @throws Stopped */
async function tellProgress(place: ImportPlace, firmId: string, importId: string, progress: number): Promise<void> {
	const row = await place.db.inFirm(firmId, (tx) =>
		tx.first<{ stop_wanted: boolean }>('update client_import set progress = $2 where id = $1 returning stop_wanted', [importId, progress])
	);
	if (row?.stop_wanted) throw new Stopped();
}

async function writePlan(place: ImportPlace, tx: Tx, actor: Actor, list: ImportRecord, batches: readonly string[]): Promise<void> {
	const clients = new Map<number, string>();
	const people = new Map<number, string>();
	const idOf = (made: Map<number, string>) => (target: Target | null) => target && ('id' in target ? target.id : made.get(target.line)!);
	const firm = await loadFirm(tx);
	const today = localDate(actor.now, firm.calendar);
	/** facts of new clients that an earlier row has brought */
	const brought = new Set<string>();
	let done = 0;
	for (const batch of batches) {
		await tellProgress(place, tx.firmId, list.id, done);
		const rows = (JSON.parse(batch) as { plan: RowPlan }[])
			.map(({ plan }) => plan)
			.filter((plan) => plan.outcome === 'create' || plan.outcome === 'update');
		// a row builds on rows before it only, so that these are known by now
		for (const row of rows) {
			if (row.newClient) clients.set(row.line, randomUUID());
			if (row.newPerson) people.set(row.line, randomUUID());
		}
		if (rows.length > 0) await writeRows(tx, actor, { ...list, today, language: firm.clientLanguage, brought }, rows, idOf(clients), idOf(people));
		done += rows.length;
	}
}

/** Writes some rows with one statement for each kind of thing, and what is needed to undo them. */
async function writeRows(
	tx: Tx,
	actor: Actor,
	list: { id: string; fileName: string; today: string; language: string; brought: Set<string> },
	rows: readonly RowPlan[],
	clientOf: (target: Target | null) => string | null,
	personOf: (target: Target | null) => string | null
): Promise<void> {
	const some = <T extends object>(each: (row: RowPlan) => T[]) => JSON.stringify(rows.flatMap(each));
	const base = [tx.firmId, list.id] as const;

	await tx.rows(
		`with r as (select * from jsonb_to_recordset($3) as r (id uuid, name text, kind text, responsible uuid)),
		made as (insert into client (id, firm_id, name, kind, responsible_id, created_at) select id, $1, name, kind, responsible, $4 from r returning id)
		insert into client_import_trace (firm_id, import_id, kind, client_id) select $1, $2, 'client', id from made`,
		[
			...base,
			some(({ newClient: c, client }) => (c ? [{ id: clientOf(client), name: c.name, kind: c.kind, responsible: c.responsibleId }] : [])),
			actor.now
		]
	);
	await tx.rows(
		`with r as (select * from jsonb_to_recordset($3) as r (id uuid, name text, kind text, responsible uuid)),
		before as (insert into client_import_trace (firm_id, import_id, kind, client_id, before)
			select $1, $2, 'client_before', c.id, jsonb_build_object('name', c.name, 'kind', c.kind, 'responsible_id', c.responsible_id) from client c join r on r.id = c.id)
		update client c set name = coalesce(r.name, c.name), kind = coalesce(r.kind, c.kind), responsible_id = coalesce(r.responsible, c.responsible_id) from r where r.id = c.id`,
		[...base, some(({ setClient: c, client }) => (c ? [{ id: clientOf(client), name: c.name, kind: c.kind, responsible: c.responsibleId }] : []))]
	);
	await tx.rows(
		`with r as (select * from jsonb_to_recordset($3) as r (id uuid, name text, email text, phone text, language text)),
		made as (insert into contact (id, firm_id, name, email, phone, locale, created_at, mail_problem)
			select id, $1, name, email, phone, coalesce(language, $5), $4, case when email is null then 'no_address' end from r returning id)
		insert into client_import_trace (firm_id, import_id, kind, contact_id) select $1, $2, 'contact', id from made`,
		[...base, some(({ newPerson: p, person }) => (p ? [{ id: personOf(person), ...p }] : [])), actor.now, list.language]
	);
	const setPeople = some(({ setPerson: p, person }) =>
		p ? [{ id: personOf(person), name: p.name, email: p.email, phone: p.phone, language: p.language }] : []
	);
	await tx.rows(
		`with r as (select * from jsonb_to_recordset($3) as r (id uuid, name text, email text, phone text, language text)),
		before as (insert into client_import_trace (firm_id, import_id, kind, contact_id, before)
			select $1, $2, 'contact_before', c.id, jsonb_build_object('name', c.name, 'email', c.email, 'phone', c.phone, 'locale', c.locale, 'mail_problem', c.mail_problem) from contact c join r on r.id = c.id),
		-- a link that went to the address before stops working
		replaced as (update invitation i set replaced_at = $4 from r where i.contact_id = r.id and r.email is not null
			and i.waits)
		update contact c set name = coalesce(r.name, c.name), email = coalesce(r.email, c.email), phone = coalesce(r.phone, c.phone), locale = coalesce(r.language, c.locale),
			mail_problem = case when r.email is null then c.mail_problem end from r where r.id = c.id`,
		[...base, setPeople, actor.now]
	);
	await tx.rows(
		`with r as (select * from jsonb_to_recordset($3) as r (line int, client uuid, contact uuid, role text)),
		made as (insert into client_contact (firm_id, client_id, contact_id, role, rank)
			select $1, client, contact, role, coalesce((select max(rank) from client_contact o where o.client_id = client), 0) + row_number() over (partition by client order by line)
			from r returning client_id, contact_id)
		insert into client_import_trace (firm_id, import_id, kind, client_id, contact_id) select $1, $2, 'link', client_id, contact_id from made`,
		[
			...base,
			some(({ link, line, client, person }) => (link ? [{ line, client: clientOf(client), contact: personOf(person), role: link.role }] : []))
		]
	);
	await tx.rows(
		`with r as (select * from jsonb_to_recordset($3) as r (client uuid, contact uuid, role text)),
		before as (insert into client_import_trace (firm_id, import_id, kind, client_id, contact_id, before)
			select $1, $2, 'role_before', cc.client_id, cc.contact_id, to_jsonb(cc.role) from client_contact cc join r on r.client = cc.client_id and r.contact = cc.contact_id)
		update client_contact cc set role = r.role from r where r.client = cc.client_id and r.contact = cc.contact_id`,
		[...base, some(({ setRole, client, person }) => (setRole ? [{ client: clientOf(client), contact: personOf(person), role: setRole }] : []))]
	);
	// several rows may correct one fact of one client: the last one stays
	const facts = new Map(
		rows.flatMap((row) =>
			row.facts.map(
				({ name, value }) => [`${clientOf(row.client)} ${name}`, { id: randomUUID(), client: clientOf(row.client), name, value }] as const
			)
		)
	);
	// a new client has nothing to correct, unless an earlier row of the list said it
	const newHere = new Set(rows.flatMap((row) => (row.client && 'line' in row.client ? [clientOf(row.client)] : [])));
	const correcting = [...facts].flatMap(([key, fact]) => (newHere.has(fact.client) && !list.brought.has(key) ? [] : [fact]));
	for (const key of facts.keys()) list.brought.add(key);
	await tx.rows(
		`update fact f set replaced_at = $1 from jsonb_to_recordset($2) as r (client uuid, name text) where f.client_id = r.client and f.name = r.name and f.replaced_at is null`,
		[actor.now, JSON.stringify(correcting)]
	);
	await tx.rows(
		`with r as (select * from jsonb_to_recordset($3) as r (id uuid, client uuid, name text, value text)),
		made as (insert into fact (id, firm_id, client_id, name, value, said_by_kind, said_by, said_by_name, said_at)
			select id, $1, client, name, value, 'staff', $5, $6, $4 from r returning id, client_id)
		insert into client_import_trace (firm_id, import_id, kind, client_id, fact_id) select $1, $2, 'fact', client_id, id from made`,
		[...base, JSON.stringify([...facts.values()]), actor.now, actor.id, actor.name]
	);
	await tx.rows(
		`with r as (select * from jsonb_to_recordset($3) as r (id uuid, client uuid, services uuid[])),
		made as (insert into engagement (id, firm_id, client_id, name, began_on, created_at) select id, $1, client, 'Ongoing work', $5::date, $4 from r returning id, client_id),
		done as (insert into engagement_service (firm_id, client_id, engagement_id, service_id) select $1, client, id, unnest(services) from r)
		insert into client_import_trace (firm_id, import_id, kind, client_id, engagement_id) select $1, $2, 'engagement', client_id, id from made`,
		[
			...base,
			some(({ serviceIds, client }) => (serviceIds.length > 0 ? [{ id: randomUUID(), client: clientOf(client), services: serviceIds }] : [])),
			actor.now,
			list.today
		]
	);
	await recordEvents(
		tx,
		actor,
		rows.map((row): NewEvent => ({
			verb: row.newClient ? 'client_imported' : 'client_changed_by_list',
			clientId: clientOf(row.client),
			contactId: personOf(row.person),
			details: {
				file: list.fileName,
				importId: list.id,
				what: [...new Set(row.changes.map((change) => change.label.toLowerCase()))].join(', '),
				before: row.changes.filter((change) => change.from !== null).map(({ label, from }) => ({ label, from }))
			}
		}))
	);
}
