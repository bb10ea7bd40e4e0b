import { afterAll, beforeAll, expect, test } from 'vitest';
import { ITEM_PHASES, ITEM_STATES } from '$lib/core/requests/item-states';
import { openTestContext, type TestContext } from '../testing/test-firm';

let context: TestContext;
beforeAll(async () => (context = await openTestContext()));
afterAll(() => context.close());

test('the database and core know the same phase of every state', async () => {
	const { rows: columns } = await context.owner.query<{ says: string }>(
		`select pg_get_expr(adbin, adrelid) as says from pg_attrdef d join pg_attribute a on a.attrelid = d.adrelid and a.attnum = d.adnum
		where a.attrelid = 'item'::regclass and a.attname = 'phase'`
	);
	const { rows } = await context.owner.query<{ state: string; phase: string }>(
		`select state, ${columns[0].says} as phase from unnest($1::text[]) state`,
		[ITEM_STATES]
	);
	expect(Object.fromEntries(rows.map(({ state, phase }) => [state, phase]))).toEqual(ITEM_PHASES);
});
