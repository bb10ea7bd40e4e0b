import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { asPaper, contentDisposition, isOfSlotType, isViewable, safeFileName } from './file-name';

describe('file names', () => {
	test.each([
		['statement.pdf', 'statement.pdf'],
		['../../etc/passwd', 'passwd'],
		['C:\\Users\\x\\a.pdf', 'a.pdf'],
		['..', 'paper'],
		['', 'paper'],
		['a\u202efdp.exe', 'afdp.exe'],
		['what?*<>.pdf', 'what____.pdf'],
		['  .hidden ', 'hidden'],
		['.pdf', 'pdf'],
		[`${'x'.repeat(300)}.pdf`, `${'x'.repeat(180 - 4)}.pdf`],
		[`a.${'y'.repeat(300)}`, `a.${'y'.repeat(180 - 2)}`],
		['caf\u0065\u0301.pdf', 'café.pdf']
	])('%j becomes %j', (name, safe) => {
		expect(safeFileName(name)).toBe(safe);
	});
	test('a long name keeps its ending', () => {
		const name = safeFileName(`${'é'.repeat(300)}.pdf`);
		expect([...name].length).toBeLessThanOrEqual(180);
		expect(name.endsWith('.pdf')).toBe(true);
	});
	test('whatever comes in, no path, no control character, never empty', () => {
		fc.assert(
			fc.property(fc.string({ unit: 'binary', maxLength: 400 }), (name) => {
				const safe = safeFileName(name);
				expect(safe.length).toBeGreaterThan(0);
				expect(safe).not.toMatch(/[/\\\u0000-\u001f<>:"|?*\u202a-\u202e]/);
			})
		);
	});
});

describe('Content-Disposition', () => {
	test('cannot be broken out of', () => {
		expect(contentDisposition('attachment', 'a"; x=1\r\nSet-Cookie: y.pdf')).not.toMatch(/[\r\n]/);
		expect(contentDisposition('attachment', 'Mārā’s (1).pdf')).toBe(
			`attachment; filename="M_r__s (1).pdf"; filename*=UTF-8''M%C4%81r%C4%81%E2%80%99s%20%281%29.pdf`
		);
	});
});

test('nothing that a browser could run is taken or shown', () => {
	for (const type of [
		'text/html',
		'image/svg+xml',
		'application/xml',
		'application/x-msdownload',
		'application/octet-stream',
		'application/javascript'
	]) {
		expect(asPaper('statement.pdf', type)).toBeNull();
		expect(isViewable(type)).toBe(false);
	}
	expect(isViewable('application/pdf')).toBe(true);
	expect(isViewable('application/zip')).toBe(false);
});

describe('a file is kept under a name that fits what it is', () => {
	const XLSX = 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet';
	test.each([
		['Statement.PDF', 'application/pdf', 'Statement.PDF'],
		['statement', 'application/pdf', 'statement.pdf'],
		['photo.heic', 'image/jpeg', 'photo.jpg'],
		['photo.JPEG', 'image/jpeg', 'photo.JPEG'],
		['IMG_0042.HEIC', 'image/heic', 'IMG_0042.HEIC'],
		['statement.pdf', 'image/png', 'statement.png'],
		['invoice.pdf.exe', 'application/pdf', 'invoice.pdf.exe.pdf'],
		['rent.2026', 'application/pdf', 'rent.2026.pdf'],
		['..', 'image/png', 'paper.png'],
		['run.bat', 'text/plain', 'run.bat.txt'],
		['page.html', 'text/plain', 'page.html.txt'],
		['bank.csv', 'text/plain', 'bank.csv'],
		['bank.xml', 'text/plain', 'bank.xml'],
		['program.jar', 'application/zip', 'program.jar.zip'],
		['macros.xlsm', 'application/zip', 'macros.xlsm.zip'],
		['old.xls', 'application/x-cfb', 'old.xls']
	])('%s that is %s is %s', (name, type, kept) => {
		expect(asPaper(name, type)).toEqual({ name: kept, contentType: type });
	});
	test('a workbook of which no more can be told than that it is an archive is one by its name', () => {
		expect(asPaper('books.xlsx', 'application/zip')).toEqual({ name: 'books.xlsx', contentType: XLSX });
		expect(isOfSlotType(XLSX, 'sheet')).toBe(true);
		expect(isOfSlotType('application/zip', 'sheet')).toBe(false);
	});
	test('an installer is not taken for an old document', () => {
		for (const name of ['setup.msi', 'setup', 'setup.doc.msi']) expect(asPaper(name, 'application/x-cfb')).toBeNull();
	});
	test('whatever it is called, the ending is one of its kind, and naming it again changes nothing', () => {
		const types = ['application/pdf', 'image/png', 'image/jpeg', 'image/heic', 'text/plain', 'application/zip'];
		fc.assert(
			fc.property(
				fc.string({ unit: 'binary', maxLength: 300 }),
				fc.constantFrom('', '.pdf', '.exe', '.js', '.html', '.Pdf\u202e', '.p d f', '.'),
				fc.constantFrom(...types),
				(stem, ending, type) => {
					const kept = asPaper(stem + ending, type)!;
					expect(kept.name).toMatch(
						/[^.]\.(pdf|png|jpe?g|jpe|jfif|hei[cf]|txt|csv|tsv|ofx|q[fb]x|qbo|qif|xml|sta|940|asc|md|json|log|eml|ics|vcf|zip|docx|xlsx|pptx|od[ts])$/i
					);
					expect(kept.name.length).toBeLessThanOrEqual(400);
					expect(asPaper(kept.name, kept.contentType)).toEqual(kept);
				}
			)
		);
	});
});
