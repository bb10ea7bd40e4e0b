import { randomUUID } from 'node:crypto';
import type pg from 'pg';
import { DEFAULT_CHASE_PLAN } from '../src/lib/core/chasing/chase-plan';

export const CLIENTS = 10_000;
export const ITEMS_PER_CLIENT = 30;

/**
 * Fills a database with 10,000 clients and 300,000 items by sets: most settled, some open and around their due
 * dates, as a firm's data is after some years.
 * @returns the firm's id and a coordinator's
 */
export async function fill(sql: pg.Client, passwordHash: string, today: string): Promise<{ firmId: string; staffId: string }> {
	// ids that can be told again from what they stand for, of the form that a random one has (RFC 9562, version 4)
	await sql.query(
		`create function pg_temp.id_of(text) returns uuid language sql immutable as $$ select overlay(overlay(md5($1) placing '4' from 13) placing 'a' from 17)::uuid $$`
	);
	const firmId = randomUUID();
	const staffId = randomUUID();
	await sql.query(
		`insert into firm (id, slug, name, time_zone, country, brand_color, mail_from, chase_steps, chase_plan_name, second_step_staff, created_at)
		values ($1, 'bench', 'Bench Bookkeeping', 'America/Halifax', 'CA', '#2f5d50', 'x@bench.example', $2, 'Gentle', false, now())`,
		[firmId, JSON.stringify(DEFAULT_CHASE_PLAN.steps)]
	);
	await sql.query(
		`insert into staff (id, firm_id, name, email, role, password_hash, created_at) values ($1, $2, 'Bench', 'bench@bench.example', 'coordinator', $3, now())`,
		[staffId, firmId, passwordHash]
	);
	await sql.query(
		`insert into contact (id, firm_id, name, email, password_hash, created_at)
		select pg_temp.id_of('contact' || n), $1, 'Contact ' || n, 'c' || n || '@bench.example', 'x', now() from generate_series(1, $2::int) n`,
		[firmId, CLIENTS]
	);
	await sql.query(
		`insert into client (id, firm_id, name, kind, responsible_id, created_at)
		select pg_temp.id_of('client' || n), $1, 'Client ' || md5(n::text), 'business', $3, now() from generate_series(1, $2::int) n`,
		[firmId, CLIENTS, staffId]
	);
	await sql.query(
		`insert into client_contact select $1, pg_temp.id_of('client' || n), pg_temp.id_of('contact' || n), 1 from generate_series(1, $2::int) n`,
		[firmId, CLIENTS]
	);
	await sql.query(
		`insert into request (id, firm_id, client_id, contact_id, title, idempotency_key, created_by_id, sent_at)
		select pg_temp.id_of('request' || n), $1, pg_temp.id_of('client' || n), pg_temp.id_of('contact' || n), 'Papers', gen_random_uuid(), $3, now() from generate_series(1, $2::int) n`,
		[firmId, CLIENTS, staffId]
	);
	// of 30 items 26 are settled; of the open ones every fifth client has them around today, the others later
	await sql.query(
		`insert into item (id, firm_id, client_id, request_id, contact_id, position, kind, title, required, due_on, state, state_at, asked_on, chased_through, next_chase_on)
		select gen_random_uuid(), $1, pg_temp.id_of('client' || n), pg_temp.id_of('request' || n), pg_temp.id_of('contact' || n), i, 'paper', 'Paper ' || i, true, d.due,
			case when i <= 26 then 'accepted' when i = 27 and n % 40 = 0 then 'handed_in' else 'asked' end, now(), $3::date - 20, $3::date - 20,
			case when i <= 26 or (i = 27 and n % 40 = 0) then null else d.due - 2 end
		from generate_series(1, $2::int) n cross join generate_series(1, $4::int) i
			cross join lateral (select case when i <= 26 then $3::date - 400 + i when n % 5 = 0 then $3::date - 3 + (n + i) % 12 else $3::date + 20 + (n * 7 + i) % 60 end due) d`,
		[firmId, CLIENTS, today, ITEMS_PER_CLIENT]
	);
	await sql.query('vacuum analyze');
	return { firmId, staffId };
}
