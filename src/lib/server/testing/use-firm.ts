import { afterAll, beforeAll, beforeEach } from 'vitest';
import { makeClient, makeFirm, openTestContext, type TestClient, type TestContext, type TestFirm } from './test-firm';

/** The database and the stand-ins of this test file. */
export let context: TestContext;
/** The firm of the test that runs. */
export let firm: TestFirm;
/** The one client it begins with. */
export let client: TestClient;

/**
 * Gives each test of a file a firm of its own with one client, on a Monday morning within sending hours, and no mail sent yet.
 * @param at the instant at which each test begins
 * @param withClient false for a firm without clients
 */
export function useFirm({ at = '2026-05-04T13:30:00Z', withClient = true } = {}): void {
	beforeAll(async () => {
		context = await openTestContext();
	});
	afterAll(() => context.close());
	beforeEach(async () => {
		context.clock.set(at);
		context.mailer.sent.length = 0;
		firm = await makeFirm(context);
		if (withClient) client = await makeClient(context, firm);
	});
}
