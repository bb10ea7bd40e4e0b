import { randomUUID } from 'node:crypto';
import { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import { describe, expect, test } from 'vitest';
import { openAttachment } from '../attachments/attachments';
import { changeClientRights } from '../clients/client-rights';
import { asStaff } from '../platform/db/database';
import { sendRequest } from '../requests/send-request';
import { itemsOf, makeClient, makeFirm, paperLine, requestTo } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { attachPaper, findPdfs } from './attach-paper';
import { takeInPaper } from './papers';

useFirm();

/** A file that a client handed in. */
async function handedIn(name: string, content: string, of = client): Promise<string> {
	const [item] = await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(of, [paperLine('Something', '2026-05-20')])));
	const { id } = await takeInPaper(context, firm.id, of.mara(), { itemId: item.id, name, content: Readable.from([Buffer.from(content)]) });
	await context.owner.query(`update item set state = 'handed_in' where id = $1`, [item.id]);
	return id;
}
const find = (typed = '', of = client) => firm.run((tx) => findPdfs(tx, firm.odalys(), { clientId: of.id, typed }));
const attach = (paperId: string, of = client, who = firm.odalys(), scanning = false) =>
	attachPaper(context, firm.id, who, { clientId: of.id, paperId, scanning });

describe('one of a client’s papers to be signed', () => {
	test('is found by its name among their PDFs, and taken as a copy that outlives it', async () => {
		const lease = await handedIn('lease.pdf', '%PDF-1.7 the lease');
		await handedIn('minutes.pdf', '%PDF-1.7 the minutes');
		await handedIn('lease notes.txt', 'notes');
		const other = await makeClient(context, firm, { name: 'Ferry Lane Café' });
		await handedIn('their lease.pdf', '%PDF-1.7 of another', other);
		expect((await find()).pdfs.map(({ name }) => name).sort()).toEqual(['lease.pdf', 'minutes.pdf']);
		expect((await find('leas')).pdfs.map(({ id }) => id)).toEqual([lease]);
		expect((await find('gull')).pdfs).toEqual([]);
		const file = await attach(lease);
		expect(file).toMatchObject({ name: 'lease.pdf', contentType: 'application/pdf' });
		const kept = await firm.run((tx) => openAttachment(tx, firm.odalys(), file.id));
		const { rows } = await context.owner.query<{ storage_key: string }>('select storage_key from paper where id = $1', [lease]);
		expect(kept.storageKey).not.toBe(rows[0].storage_key);
		await context.papers.remove(rows[0].storage_key);
		expect((await buffer(context.papers.read(kept.storageKey))).toString()).toBe('%PDF-1.7 the lease');
		// that it was opened for this stands in the history
		const { rows: events } = await context.owner.query(
			`select 1 from event where paper_id = $1 and verb = 'paper_opened' and actor_name = 'Odalys Fenwick'`,
			[lease]
		);
		expect(events).toHaveLength(1);
	});

	test('is no paper of another client, of another firm or nobody’s, and none that a scanner keeps apart', async () => {
		const lease = await handedIn('lease.pdf', '%PDF-1.7 the lease');
		const other = await makeClient(context, firm, { name: 'Ferry Lane Café' });
		await expect(attach(lease, other)).rejects.toMatchObject({ code: 'not_found' });
		await expect(attach(randomUUID())).rejects.toMatchObject({ code: 'not_found' });
		const elsewhere = await makeFirm(context);
		await expect(
			attachPaper(context, elsewhere.id, elsewhere.odalys(), { clientId: client.id, paperId: lease, scanning: false })
		).rejects.toMatchObject({ code: 'not_found' });
		await expect(attach(lease, client, firm.odalys(), true)).rejects.toMatchObject({ code: 'changed_meanwhile' });
		await context.owner.query(`update paper set scan = 'found', scan_found = 'Something', scanned_at = now() where id = $1`, [lease]);
		await expect(attach(lease)).rejects.toMatchObject({ code: 'unreadable_file' });
		expect((await find()).pdfs).toEqual([]);
	});

	test('is taken by whoever may send it and see the client', async () => {
		const lease = await handedIn('lease.pdf', '%PDF-1.7 the lease');
		const filing = { ...firm.filing, now: context.clock.now() };
		await expect(attach(lease, client, filing)).rejects.toMatchObject({ code: 'not_allowed' });
		await expect(firm.run(async (tx) => findPdfs(tx, filing, { clientId: client.id, typed: '' }))).rejects.toMatchObject({ code: 'not_allowed' });
		await expect(attach(lease, client, client.mara())).rejects.toMatchObject({ code: 'not_allowed' });
		await firm.run((tx) => changeClientRights(tx, firm.odalys(), { clientId: client.id, restricted: true, rights: [] }));
		await context.owner.query(`update staff set role = 'bookkeeper' where id = $1`, [firm.partner.id]);
		const imre = { ...firm.partner, role: 'bookkeeper' as const };
		const db = asStaff(context.db, imre.id!);
		await expect(attachPaper({ ...context, db }, firm.id, imre, { clientId: client.id, paperId: lease, scanning: false })).rejects.toMatchObject({
			code: 'not_found'
		});
		await expect(db.inFirm(firm.id, (tx) => findPdfs(tx, imre, { clientId: client.id, typed: '' }))).rejects.toMatchObject({ code: 'not_found' });
	});
});
