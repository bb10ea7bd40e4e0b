import { expect, phone, signInAtPortal, test } from './product';
import { most, nothingYet, told, walk } from './walk';

test.use({ file: 'portalhands' });

test('every field of the portal takes what is typed, every control is reached by Tab', async ({ browser, product }) => {
	test.setTimeout(900_000);
	// the fewest people who together are asked for every kind of thing
	const { rows } = await product.sql.query<{ email: string; kinds: string[] }>(
		`select c.email, array_agg(distinct i.kind) kinds from item i join contact c on c.id = i.contact_id
		where i.phase = 'open' and c.password_hash is not null group by c.email order by count(distinct i.kind) desc, c.email`
	);
	const walked = nothingYet();
	const met = new Set<string>();
	const kinds = new Set<string>();
	for (const { email, kinds: own } of rows) {
		if (own.every((kind) => kinds.has(kind))) continue;
		for (const kind of own) kinds.add(kind);
		const page = await phone(browser, product.origin);
		await signInAtPortal(page, email);
		await walk(page, '/portal/pennywhistle-row', '/portal/', () => page.waitForLoadState('networkidle'), walked, met, most);
		await page.context().close();
	}
	told('portal', walked);
	expect(walked.faults).toEqual([]);
});
