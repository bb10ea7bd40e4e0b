import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { ROUNDS_SECTION_ROWS } from '$lib/core/rounds/sections';
import { loadFirm } from '../firms/firm';
import { answerItem } from '../requests/client-item';
import { sendRequest } from '../requests/send-request';
import {
	itemsOf,
	makeClient,
	makeFirm,
	openTestHouse,
	questionLine,
	requestTo,
	type TestClient,
	type TestFirm,
	type TestHouse
} from '../testing/test-firm';
import { countRounds, readRounds } from './read-rounds';

let house: TestHouse;
let firm: TestFirm;
beforeAll(async () => (house = await openTestHouse()));
afterAll(() => house.close());
beforeEach(async () => {
	house.clock.set('2026-05-04T13:30:00Z');
	firm = await makeFirm(house);
});

/** A client of whom questions are asked, and how it answers the next one. */
async function answering(name: string, questions: number): Promise<(at: string) => Promise<void>> {
	const client: TestClient = await makeClient(house, firm, { name });
	const lines = Array.from({ length: questions }, (_, i) => questionLine(`Question ${i + 1}`, '2026-05-20'));
	const items = await itemsOf(house, await sendRequest(house, firm.id, firm.odalys(), requestTo(client, lines)));
	return async (at) => {
		house.clock.set(at);
		await client.run((tx) => answerItem(tx, client.mara(), { itemId: items.shift()!.id, answer: 'Yes.' }));
	};
}
const cameIn = async () =>
	(await firm.run(async (tx) => readRounds(tx, firm.odalys(), await loadFirm(tx), { due: (date) => date }))).rows.filter(
		(row) => row.section === 'handed_in'
	);

describe('what came in', () => {
	test('stands together by client, where the client’s oldest stands, and there by age', async () => {
		const kites = await answering('Gull & String Kites', 3);
		const oysters = await answering('Ninth Rock Oysters', 2);
		await oysters('2026-05-05T12:00:00Z');
		await kites('2026-05-05T13:00:00Z');
		await oysters('2026-05-05T14:00:00Z');
		await kites('2026-05-06T12:00:00Z');
		await kites('2026-05-06T11:00:00Z');
		expect((await cameIn()).map((row) => [row.clientName, row.words])).toEqual([
			['Ninth Rock Oysters', 'Question 1'],
			['Ninth Rock Oysters', 'Question 2'],
			['Gull & String Kites', 'Question 1'],
			['Gull & String Kites', 'Question 3'],
			['Gull & String Kites', 'Question 2']
		]);
	});
	test('of two clients of one moment is not mixed', async () => {
		const answers = [await answering('One', 2), await answering('Another', 2)];
		for (const answer of [...answers, ...answers]) await answer('2026-05-05T12:00:00Z');
		const names = (await cameIn()).map((row) => row.clientName);
		expect(names[0]).toBe(names[1]);
		expect(names[2]).toBe(names[3]);
		expect(new Set(names).size).toBe(2);
	});
	test('is cut after the oldest clients, and counted whole', async () => {
		const late = await answering('Late', ROUNDS_SECTION_ROWS);
		const early = await answering('Early', 2);
		await early('2026-05-05T12:00:00Z');
		for (let i = 0; i < ROUNDS_SECTION_ROWS; i++) await late('2026-05-05T13:00:00Z');
		await early('2026-05-06T12:00:00Z');
		const names = (await cameIn()).map((row) => row.clientName);
		expect(names).toHaveLength(ROUNDS_SECTION_ROWS);
		expect(names.slice(0, 3)).toEqual(['Early', 'Early', 'Late']);
		expect((await firm.run((tx) => countRounds(tx, house.clock.now()))).handed_in).toBe(ROUNDS_SECTION_ROWS + 2);
	});
});
