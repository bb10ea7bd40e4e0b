import { randomUUID } from 'node:crypto';
import { copyFile, mkdtemp, readdir, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { afterAll, beforeAll, expect, inject, test } from 'vitest';
import { migrate } from '../platform/db/migrations';

const name = `test_${randomUUID().replaceAll('-', '')}`;
const url = inject('ownerUrl').replace(/\/postgres$/, `/${name}`);
const admin = new pg.Client({ connectionString: inject('ownerUrl') });
const before = new pg.Client({ connectionString: url });
let folder: string;

/** The database as it was before facts were defined by the firm. */
beforeAll(async () => {
	await admin.connect();
	await admin.query(`create database ${name}`);
	folder = await mkdtemp(join(tmpdir(), 'lantern-migrations-'));
	for (const file of await readdir('db/migrations')) if (file < '0068') await copyFile(join('db/migrations', file), join(folder, file));
	await migrate(url, folder);
	await before.connect();
}, 120_000);
afterAll(async () => {
	await before.end();
	await admin.query(`drop database ${name} with (force)`);
	await admin.end();
	await rm(folder, { recursive: true });
});

test('every fact of before is still there, and every amount, under a definition of its firm; one that nobody defined is kept and no longer asked', async () => {
	const [firm, staff, client] = [randomUUID(), randomUUID(), randomUUID()];
	await before.query(
		`insert into firm (id, slug, name, time_zone, country, brand_color, mail_from, chase_steps, chase_plan_name, created_at)
		values ($1, 'before', 'Before', 'America/Halifax', 'CA', '#2f5d50', 'x@before.example', '[]', 'Gentle', now())`,
		[firm]
	);
	await before.query(
		`insert into staff (id, firm_id, name, email, role, password_hash, created_at) values ($1, $2, 'O', 'o@before.example', 'partner', 'x', now())`,
		[staff, firm]
	);
	await before.query(`insert into client (id, firm_id, name, kind, responsible_id, created_at) values ($1, $2, 'Gull', 'business', $3, now())`, [
		client,
		firm,
		staff
	]);
	const facts: [string, string, boolean][] = [
		['employees', '1', true],
		['employees', '2', false],
		['legal_form', 'company', false],
		['tax_number', 'R-204-881', false],
		['year_end', '12-31', false],
		['shoe_size', '42', false]
	];
	for (const [fact, value, replaced] of facts)
		await before.query(
			`insert into fact (id, firm_id, client_id, name, value, said_by_kind, said_by_name, said_at, replaced_at)
			values ($1, $2, $3, $4, $5, 'staff', 'O', now(), case when $6 then now() end)`,
			[randomUUID(), firm, client, fact, value, replaced]
		);
	const [contact, request] = [randomUUID(), randomUUID()];
	await before.query(`insert into contact (id, firm_id, name, email, locale, created_at) values ($1, $2, 'Mara', 'm@before.example', 'en', now())`, [
		contact,
		firm
	]);
	await before.query(
		`insert into request (id, firm_id, client_id, contact_id, title, message, idempotency_key, created_by_id, sent_at) values ($1, $2, $3, $4, 'R', '', gen_random_uuid(), $5, now())`,
		[request, firm, client, contact, staff]
	);
	const money = (key: string, currency: string) => ({ key, title: key, help: '', required: true, answer: { is: 'money', currency }, fact: null });
	const asked: [kind: string, spec: object, answers: unknown][] = [
		[
			'questionnaire',
			{ questions: [money('yen', 'JPY'), money('dinar', 'KWD'), money('dollar', 'CAD'), { key: 'many', answer: { is: 'number' } }], files: false },
			{ yen: 1_250_000, dinar: 125, dollar: 125, many: 125, gone: 125 }
		],
		['question', { answer: { is: 'money', currency: 'JPY' }, fact: null }, 1_250_000]
	];
	for (const [position, [kind, spec, answers]] of asked.entries())
		await before.query(
			`insert into item (id, firm_id, client_id, request_id, contact_id, position, kind, title, required, spec, answer_data, state, state_at, chased_through)
			values ($1, $2, $3, $4, $5, $6, $7, 'I', true, $8, $9, 'handed_in', now(), now())`,
			[randomUUID(), firm, client, request, contact, position, kind, JSON.stringify(spec), JSON.stringify(answers)]
		);
	const read = async () => (await before.query('select id, name, value, said_by_name, said_at, replaced_at from fact order by id')).rows;
	const kept = await read();
	await migrate(url);
	expect(await read()).toEqual(kept);
	const { rows } = await before.query<{ name: string; label: string; asked: boolean; searched: boolean }>(
		`select distinct d.name, d.label, d.retired_at is null asked, f.searched from fact f join fact_definition d on d.firm_id = f.firm_id and d.name = f.name order by 1`
	);
	expect(rows).toEqual([
		{ name: 'employees', label: 'Employees', asked: true, searched: false },
		{ name: 'legal_form', label: 'Legal form', asked: true, searched: false },
		{ name: 'shoe_size', label: 'Shoe Size', asked: false, searched: false },
		{ name: 'tax_number', label: 'Tax number', asked: true, searched: true },
		{ name: 'year_end', label: 'Year end', asked: true, searched: false }
	]);
	// answers that were kept in hundredths are in the minor unit of their currency
	expect((await before.query('select answer_data from item order by position')).rows.map((row) => row.answer_data)).toEqual([
		{ yen: 12_500, dinar: 1250, dollar: 125, many: 125, gone: 125 },
		12_500
	]);
	// and from here on nothing is kept that no definition has
	await expect(
		before.query(
			`insert into fact (id, firm_id, client_id, name, value, said_by_kind, said_by_name, said_at) values ($1, $2, $3, 'mood', 'x', 'staff', 'O', now())`,
			[randomUUID(), firm, client]
		)
	).rejects.toThrow();
}, 120_000);
