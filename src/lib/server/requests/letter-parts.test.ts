import { spawnSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buffer } from 'node:stream/consumers';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { LetterBlock } from '$lib/core/letters/letter-document';
import type { Condition } from '$lib/core/requests/conditions';
import { writeEngagement } from '../clients/client-record';
import { openLetterPdf } from '../signing/sign-letter';
import {
	itemsOf,
	letterLine,
	makeClient,
	makeFirm,
	openTestContext,
	requestTo,
	type TestClient,
	type TestContext,
	type TestFirm
} from '../testing/test-firm';
import { sendRequest } from './send-request';

let context: TestContext;
let firm: TestFirm;
let client: TestClient;
beforeAll(async () => {
	context = await openTestContext();
	firm = await makeFirm(context);
	client = await makeClient(context, firm, { name: 'Gull & String Kites' });
});
afterAll(() => context.close());

const text = (words: string) => ({ type: 'paragraph' as const, content: [{ type: 'text' as const, text: words }] });
const field = (name: string) => ({ type: 'paragraph' as const, content: [{ type: 'mergeField' as const, attrs: { name } }] });
const part = (onlyIf: Condition, ...content: ReturnType<typeof text>[]): LetterBlock => ({ type: 'part', attrs: { onlyIf }, content });
const table: LetterBlock = {
	type: 'table',
	content: [
		{ type: 'tableRow', content: [text('Service'), text('Fee a month')].map((p) => ({ type: 'tableHeader', content: [p] })) },
		{
			type: 'tableRow',
			content: [
				{ type: 'tableCell', content: [text('Monthly books')] },
				{ type: 'tableCell', content: [field('monthly_fee')] }
			]
		},
		// a row that was cut short
		{ type: 'tableRow', content: [{ type: 'tableCell', content: [text('Payroll')] }] }
	]
};

async function pagesOf(content: LetterBlock[], values: Record<string, string> = { monthly_fee: '$280' }): Promise<string[]> {
	const requestId = await sendRequest(
		context,
		firm.id,
		firm.odalys(),
		requestTo(client, [letterLine('Terms', '2026-05-20', values, { type: 'doc', content })])
	);
	const [item] = await itemsOf(context, requestId);
	const { storageKey } = await firm.run((tx) => openLetterPdf(tx, firm.odalys(), item.id, true));
	const file = join(mkdtempSync(join(tmpdir(), 'lantern-parts-')), 'letter.pdf');
	writeFileSync(file, await buffer(context.papers.read(storageKey)));
	return spawnSync('pdftotext', ['-layout', file, '-'], { encoding: 'utf8' }).stdout.split('\f');
}

test('a table stands in the letter with its fields filled, and what follows a new page stands on the next one', async () => {
	const [first, second] = await pagesOf([text('What it costs'), table, { type: 'pageBreak' }, text('How this ends')]);
	expect(first).toMatch(/Service\s+Fee a month/);
	expect(first).toMatch(/Monthly books\s+\$280/);
	expect(first).not.toContain('How this ends');
	expect(second).toContain('How this ends');
});

test('a part comes for the clients it is for; what it asks to be filled in is asked of nobody else', async () => {
	const payroll: Condition = { kind: 'service', name: 'Payroll', is: 'has' };
	const letter = [
		text('What we do'),
		part(payroll, text('We pay your people'), field('pay_day') as never),
		part({ kind: 'service', name: 'Payroll', is: 'has_not' }, text('You pay them yourselves'))
	];
	const [without] = await pagesOf(letter);
	expect(without).toContain('You pay them yourselves');
	expect(without).not.toContain('We pay your people');
	await context.owner.query(`insert into service (id, firm_id, name, position, created_at) values (gen_random_uuid(), $1, 'Payroll', 90, now())`, [
		firm.id
	]);
	const { rows } = await context.owner.query<{ id: string }>(`select id from service where firm_id = $1 and name = 'Payroll'`, [firm.id]);
	await firm.run((tx) =>
		writeEngagement(tx, firm.odalys(), { clientId: client.id, engagementId: null, name: 'Payroll', services: [rows[0].id], beganOn: '2026-04-01' })
	);
	await expect(pagesOf(letter)).rejects.toMatchObject({ code: 'unfilled_fields' });
	const [withIt] = await pagesOf(letter, { monthly_fee: '$280', pay_day: 'the 15th' });
	expect(withIt).toContain('We pay your people');
	expect(withIt).toContain('the 15th');
	expect(withIt).not.toContain('You pay them yourselves');
});

test('what is not known decides nothing: the letter does not go, and says what to fill in', async () => {
	const { rows } = await context.owner.query<{ name: string; label: string }>(
		`select name, label from fact_definition where firm_id = $1 and kind ->> 'kind' = 'date' limit 1`,
		[firm.id]
	);
	const letter = [text('Terms'), part({ kind: 'fact', fact: rows[0].name, is: 'before', value: '2026-01-01' }, text('From before'))];
	await expect(pagesOf(letter)).rejects.toMatchObject({
		message: expect.stringContaining(`its part 1 comes hangs on ${rows[0].label}, which is not known`)
	});
	const gone = [text('Terms'), part({ kind: 'fact', fact: 'no_such_fact', is: 'known', value: '' }, text('x'))];
	await expect(pagesOf(gone)).rejects.toMatchObject({ code: 'invalid' });
});
