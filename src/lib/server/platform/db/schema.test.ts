import { readFile } from 'node:fs/promises';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { openTestContext, type TestContext } from '../../testing/test-firm';

let context: TestContext;
beforeAll(async () => (context = await openTestContext()));
afterAll(() => context.close());

test('db/schema.sql is what the migrations make', async ({ skip }) => {
	const { dumpSchema, schemaHeading } = (await import(
		'../../../../../scripts/schema.mjs' as string
	)) as typeof import('../../../../../scripts/schema.mjs');
	const kept = await readFile('db/schema.sql', 'utf8');
	const { rows } = await context.owner.query<{ server_version: string }>('show server_version');
	const heading = schemaHeading(/\d+/.exec(rows[0].server_version)![0]);
	if (!kept.startsWith(heading)) skip('it was written with another version of PostgreSQL');
	expect(kept.slice(heading.length), 'run npm run database -- schema').toBe(dumpSchema(context.ownerUrl));
});

test('every table says what it holds', async () => {
	const { rows } = await context.owner.query<{ relname: string }>(
		`select relname from pg_class c where relnamespace = 'public'::regnamespace and relkind in ('r', 'v') and obj_description(c.oid) is null`
	);
	expect(rows).toEqual([]);
});
