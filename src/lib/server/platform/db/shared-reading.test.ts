import { afterAll, beforeAll, expect, test } from 'vitest';
import { DomainError } from '$lib/core/errors/domain-error';
import { makeFirm, openTestContext, type TestFirm, type TestContext } from '$lib/server/testing/test-firm';
import { loadFirm } from '$lib/server/firms/firm';
import type { Tx } from './database';
import { readingOf, readOnly, sharedReading } from './shared-reading';

let context: TestContext;
let firm: TestFirm;
beforeAll(async () => {
	context = await openTestContext();
	firm = await makeFirm(context);
});
afterAll(() => context.close());

const open = () => sharedReading(readOnly(context.db, firm.id), loadFirm);
const transaction = (tx: Tx) =>
	tx.first<{ id: string }>('select pg_backend_pid() || $$ $$ || txid_snapshot_xmin(txid_current_snapshot()) || now() id');
const rename = (name: string) => context.owner.query('update firm set name = $2 where id = $1', [firm.id, name]);

test('parts that are read side by side share one transaction and see the same moment, whatever happens meanwhile', async () => {
	const read = open();
	await rename('Before');
	const [first, second] = await Promise.all([
		read(async (tx, known) => {
			const at = await transaction(tx);
			await rename('After');
			return [at, known.name, (await loadFirm(tx)).name];
		}),
		read(async (tx, known) => [await transaction(tx), known.name, (await loadFirm(tx)).name])
	]);
	expect(first).toEqual(second);
	expect(first.slice(1)).toEqual(['Before', 'Before']);
	// whoever reads later sees what has happened
	expect(await read(async (_, known) => known.name)).toBe('After');
});
test('what one part throws is its own, and the connection comes back', async () => {
	const read = open();
	for (let i = 0; i < 15; i++) {
		const outcomes = await Promise.allSettled([
			read(async () => {
				throw new DomainError('not_found', 'There is no such client.');
			}),
			read(async (tx) => (await loadFirm(tx)).id)
		]);
		expect(outcomes).toMatchObject([
			{ status: 'rejected', reason: { code: 'not_found' } },
			{ status: 'fulfilled', value: firm.id }
		]);
	}
});
test('nothing can be written in it', async () => {
	await expect(open()((tx) => tx.rows(`update firm set name = 'x' where id = $1`, [firm.id]))).rejects.toMatchObject({ code: '25006' });
});
test('where it cannot be begun, every part hears why', async () => {
	const read = sharedReading(readOnly(context.db, firm.id), async () => {
		throw new Error('the firm does not exist');
	});
	const outcomes = await Promise.allSettled([read(async () => 1), read(async () => 2)]);
	expect(outcomes.map((one) => one.status === 'rejected' && (one.reason as Error).message)).toEqual(Array(2).fill('the firm does not exist'));
});
test('one page has one reading for each side', () => {
	const [page, other] = [{}, {}];
	const reading = open();
	expect(readingOf(page, 'desk', () => reading)).toBe(readingOf(page, 'desk', open));
	expect(readingOf(page, 'portal', open)).not.toBe(reading);
	expect(readingOf(other, 'desk', open)).not.toBe(reading);
});
