import { afterAll, beforeAll, expect, test } from 'vitest';
import { loadFirm } from '../../firms/firm';
import { readClients } from '../../clients/read-clients';
import { makeFirm, openTestContext, type TestContext } from '../../testing/test-firm';

let context: TestContext;
beforeAll(async () => (context = await openTestContext()));
afterAll(() => context.close());

test('the database knows each statement by the function that runs it, and by its text', async () => {
	const firm = await makeFirm(context);
	const names = await firm.run(async (tx) => {
		const query = { order: 'wait', search: null, responsibleId: null, after: null } as const;
		await readClients(tx, firm.odalys(), await loadFirm(tx), query, 10);
		await Promise.all([1, 2].map((n) => tx.rows(`select ${n}`)));
		return tx.rows<{ name: string; statement: string }>('select name, statement from pg_prepared_statements');
	});
	const nameOf = (start: string) => names.find(({ statement }) => statement.startsWith(start))!.name;
	expect(nameOf('select f.*, array(select day')).toMatch(/^loadFirm [0-9a-f]{16}$/);
	expect(names.filter(({ name }) => name.startsWith('readClients '))).toHaveLength(1);
	expect(nameOf('select 1')).not.toBe(nameOf('select 2'));
});
