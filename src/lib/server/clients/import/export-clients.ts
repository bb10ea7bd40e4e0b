import ICAL from 'ical.js';
import { columnLabel, exportColumns } from '$lib/core/clients/import/columns';
import { guardCell } from '$lib/core/tables/formula-guard';
import { writeCsv } from '$lib/core/tables/write-csv';
import { factInCell } from '$lib/core/facts/fact-words';
import { issueInWords } from '$lib/words/sayings';
import { requireStaff, type Actor } from '../../actor';
import { recordEvent } from '../../audit/record-event';
import { loadFacts, maySeeFact } from '../../facts/firm-facts';
import type { Tx } from '../../platform/db/database';

interface ExportedPerson {
	client_id: string;
	client: string;
	kind: string;
	responsible: string;
	services: string | null;
	facts: Record<string, string>;
	contact: string | null;
	email: string | null;
	phone: string | null;
	language: string | null;
	role: string | null;
}

/** Every client with every person, one row each, by the client's name and the person's rank. */
async function readAll(tx: Tx): Promise<ExportedPerson[]> {
	return tx.rows(
		`select c.id client_id, c.name client, c.kind, s.name responsible, sv.names services, coalesce(f.facts, '{}') facts, p.name contact, p.email::text, p.phone, p.locale "language", cc.role
		from client c join staff s on s.id = c.responsible_id
			left join client_contact cc on cc.client_id = c.id left join contact p on p.id = cc.contact_id
			left join (select client_id, jsonb_object_agg(name, value) facts from fact where firm_id = $1 and replaced_at is null group by client_id) f on f.client_id = c.id
			left join (select es.client_id, string_agg(distinct s.name, '; ' order by s.name) names from engagement_service es
				join engagement e on e.id = es.engagement_id and e.ended_on is null join service s on s.id = es.service_id and s.ended_at is null
				where es.firm_id = $1 group by es.client_id) sv on sv.client_id = c.id
		where c.firm_id = $1 order by lower(c.name), c.id, cc.rank`,
		[tx.firmId]
	);
}

/**
 * All clients as CSV (RFC 4180, UTF-8 with its mark): bringing it in again changes nothing. Cells that a spreadsheet
 * would run are made harmless.
 */
export async function exportClientsCsv(tx: Tx, actor: Actor): Promise<string> {
	requireStaff(actor, 'import_clients');
	const rows = await readAll(tx);
	await recordEvent(tx, actor, { verb: 'clients_exported', details: { count: rows.length, as: 'CSV' } });
	const facts = await loadFacts(tx);
	// what this person may not see goes into no file of theirs
	const columns = exportColumns(facts).filter((column) => {
		const fact = facts.get(column);
		return !fact || maySeeFact(actor, fact);
	});
	const cells = rows.map((row) =>
		columns.map((column) => {
			const fact = facts.get(column);
			if (fact) return guardCell(row.facts[column] === undefined ? '' : factInCell(fact, row.facts[column]));
			return guardCell(column === 'record' ? row.client_id : (row[column as 'client'] ?? ''));
		})
	);
	return writeCsv([columns.map((column) => columnLabel(column, facts)), ...cells]);
}

/** All people as vCard 4.0 (RFC 6350), one card for each person at each client. */
export async function exportPeopleCards(tx: Tx, actor: Actor): Promise<string> {
	requireStaff(actor, 'import_clients');
	const rows = (await readAll(tx)).filter((row) => row.contact !== null);
	await recordEvent(tx, actor, { verb: 'clients_exported', details: { count: rows.length, as: 'vCard' } });
	return (
		rows
			.map((row) => {
				const card = new ICAL.Component(['vcard', [], []] as unknown as [string, unknown[], unknown[]]);
				const add = (name: string, value: string | null) => value && card.addPropertyWithValue(name, value);
				add('version', '4.0');
				add('fn', row.contact);
				// an organisation is a structured value: as a list, a semicolon in the name stays one
				if (row.kind === 'business') card.addPropertyWithValue('org', [row.client]);
				add('email', row.email);
				if (row.phone) card.addPropertyWithValue('tel', `tel:${row.phone}`).setParameter('value', 'uri');
				add('lang', row.language);
				add('title', row.role);
				return card.toString();
			})
			.join('\r\n') + '\r\n'
	);
}

/** The rows of a list that are wrong, with what is wrong, as CSV, for putting them right elsewhere. */
export async function exportMistakes(tx: Tx, actor: Actor, importId: string): Promise<string> {
	requireStaff(actor, 'import_clients');
	const rows = await tx.rows<{
		line: number;
		problem: { message: string; maximum?: number };
		column: string | null;
		header: string[];
		cells: string[];
	}>(
		`select r.line, p problem, p ->> 'column' "column", to_json(i.header) header, to_json(r.cells) cells
		from client_import_row r join client_import i on i.id = r.import_id, jsonb_array_elements(r.plan -> 'problems') p
		where r.import_id = $1 and r.outcome = 'wrong' order by r.line`,
		[importId]
	);
	const facts = await loadFacts(tx);
	const cells = rows.map((row) => [
		String(row.line),
		row.column ? columnLabel(row.column, facts) : '',
		issueInWords('en', row.problem),
		...row.cells.map((cell) => guardCell(cell))
	]);
	return writeCsv([['Row', 'Column', 'What is wrong', ...(rows[0]?.header ?? []).map(guardCell)], ...cells]);
}
