import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import { PDFArray, PDFDocument, PDFName, type PDFDict } from '@cantoo/pdf-lib';
import { describe, expect, test } from 'vitest';
import { checkedPdf, numberedPdf } from '../testing/numbered-pdf';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { givePaper, joinPapers } from './shared-papers';

useFirm();

describe('joining to one PDF', () => {
	const giveFile = async (name: string, bytes: Uint8Array) =>
		(await givePaper(context, firm.id, firm.odalys(), { clientId: client.id, name, content: Readable.from([bytes]), folder: null, showing: 'no' }))
			.id;
	const join = (name: string, ...paperIds: string[]) => joinPapers(context, firm.id, firm.odalys(), { clientId: client.id, paperIds, name });
	test('begins with contents that lead to each paper, is ours only, and leaves the papers as they were', async () => {
		const ids = [await giveFile('Räumungsklage, sehr lang genannt.pdf', await numberedPdf(2))];
		for (let n = 0; n < 40; n++) ids.push(await giveFile(`paper ${n}.pdf`, await numberedPdf(1)));
		const made = await join('Year end / 2026', ...ids);
		expect(made).toMatchObject({ name: 'Year end - 2026.pdf', pages: 44 });
		const row = await context.owner.query('select storage_key, shown_at, given_by_id from paper where id = $1', [made.id]);
		expect(row.rows[0]).toMatchObject({ shown_at: null, given_by_id: firm.odalys().id });
		const file = checkedPdf(await buffer(context.papers.read(row.rows[0].storage_key)));
		const words = execFileSync('pdftotext', ['-layout', '-l', '2', file, '-'], { encoding: 'utf8' });
		expect(words).toMatch(/Year end - 2026\s+Gull & String Kites, 4 May 2026[\s\S]*Räumungsklage, sehr lang genannt\.pdf\s+3\s+paper 0\.pdf\s+5\s/);
		expect(words).toMatch(/paper 39\.pdf\s+44/);
		// each line leads to where its number says
		const read = await PDFDocument.load(readFileSync(file));
		const dests = [0, 1].flatMap((page) =>
			read
				.getPage(page)
				.node.Annots()!
				.asArray()
				.map((ref) => {
					const dest = (read.context.lookup(ref) as PDFDict).lookup(PDFName.of('Dest'), PDFArray);
					return read.getPages().findIndex((one) => one.ref === dest.get(0)) + 1;
				})
		);
		expect(dests).toEqual([3, ...Array.from({ length: 40 }, (_, n) => n + 5)]);
	});
	test('a table, a locked file, one alone or one of another client: nothing is joined', async () => {
		const paper = await giveFile('paper.pdf', await numberedPdf(1));
		await expect(join('x', paper)).rejects.toMatchObject({ code: 'invalid' });
		await expect(join(' ', paper, paper)).rejects.toMatchObject({ code: 'invalid' });
		const table = await giveFile('table.csv', Buffer.from('a,b\n1,2\n'));
		await expect(join('x', paper, table)).rejects.toThrow('table.csv has no pages that could be joined. Leave it out; nothing was joined.');
		const broken = await giveFile('broken.pdf', Buffer.from('%PDF-1.7 and nothing more'));
		await expect(join('x', paper, broken)).rejects.toMatchObject({ code: 'unreadable_file' });
		await expect(join('x', paper, randomUUID())).rejects.toMatchObject({ code: 'not_found' });
		await expect(joinPapers(context, firm.id, client.mara(), { clientId: client.id, paperIds: [paper, broken], name: 'x' })).rejects.toMatchObject({
			code: 'not_allowed'
		});
	});
});
