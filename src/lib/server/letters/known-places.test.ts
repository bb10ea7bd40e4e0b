import { afterAll, beforeAll, expect, test } from 'vitest';
import { placesSchema, fieldsOf, type PlaceKind } from '$lib/core/signing/places';
import { sayFact } from '../clients/client-facts';
import { makeClient, makeFirm, openTestContext, type TestClient, type TestContext, type TestFirm } from '../testing/test-firm';
import { readKnownPlaces } from './known-places';

let context: TestContext;
let firm: TestFirm;
let client: TestClient;
beforeAll(async () => {
	context = await openTestContext();
	firm = await makeFirm(context);
	client = await makeClient(context, firm, { name: 'Gull & String Kites' });
	for (const [name, value] of [
		['address', 'The Net Loft\n2 Slipway Lane'],
		['legal_form', 'sole_trader'],
		['employees', '2'],
		['year_end', '12-31'],
		['tax_number', 'R-204-881']
	])
		await firm.run((tx) => sayFact(tx, firm.odalys(), { clientId: client.id, name, value }));
	await context.owner.query(`update contact set phone = '+19025550161' where id = $1`, [client.contactId]);
	await context.owner.query(`update fact_definition set client_may = 'nothing' where firm_id = $1 and name = 'employees'`, [firm.id]);
	await context.owner.query(`update fact_definition set secret = true where firm_id = $1 and name = 'tax_number'`, [firm.id]);
});
afterAll(() => context.close());

const fields = (...asked: [PlaceKind, string, string[]?][]) =>
	fieldsOf(
		placesSchema.parse(
			asked.map(([kind, label, choices = []], n) => ({
				id: `p${n}`,
				document: 0,
				page: 1,
				x: 10,
				y: 10 + n * 40,
				width: 100,
				height: 20,
				kind,
				of: 'a',
				label,
				choices
			}))
		),
		'a'
	);
const labels = async () => {
	const { rows } = await context.owner.query<{ name: string; label: string }>('select name, label from fact_definition where firm_id = $1', [
		firm.id
	]);
	return Object.fromEntries(rows.map(({ name, label }) => [name, label]));
};
const known = (who: TestClient, asked: ReturnType<typeof fields>, locale = 'en') =>
	who.run((tx) => readKnownPlaces(tx, who.mara(), client.id, asked, locale));

test('what the record calls so comes filled in, in words', async () => {
	const called = await labels();
	const asked = fields(
		['text', called.address],
		['text', `${called.year_end.toUpperCase()}:`],
		['choice', called.legal_form, ['company', 'Sole trader']],
		['text', 'Company'],
		['text', 'Phone'],
		['text', 'Favourite colour'],
		['tick', called.address.concat(' is right')],
		['account', 'Account']
	);
	expect(await known(client, asked)).toEqual({
		[called.address]: 'The Net Loft, 2 Slipway Lane',
		[`${called.year_end.toUpperCase()}:`]: '31 December',
		[called.legal_form]: 'Sole trader',
		Company: 'Gull & String Kites',
		Phone: '(902) 555-0161'
	});
});

test('in a place for their title stands what they are at the client', async () => {
	const asked = fields(['title', 'Fonction'], ['text', 'Title']);
	expect(await known(client, asked)).toEqual({});
	await context.owner.query(`update client_contact set role = 'managing partner' where contact_id = $1`, [client.contactId]);
	expect(await known(client, asked)).toEqual({ Fonction: 'managing partner' });
});

test('in the language of whoever signs', async () => {
	expect(await known(client, fields(['text', 'Entreprise'], ['text', 'Fin d’exercice']), 'fr')).toMatchObject({ Entreprise: 'Gull & String Kites' });
});

test('nothing that clients may not see, no secret, and nothing to somebody of another client', async () => {
	const called = await labels();
	const asked = fields(['text', called.employees], ['text', called.tax_number], ['text', called.address]);
	expect(Object.keys(await known(client, asked))).toEqual([called.address]);
	const other = await makeClient(context, firm, { name: 'Another' });
	expect(await known(other, asked)).toEqual({});
	expect(await known(other, fields(['text', 'Company']))).toEqual({});
});
