import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PDFDocument } from '@cantoo/pdf-lib';

/** A PDF whose pages say their numbers. */
export async function numberedPdf(pages: number): Promise<Buffer> {
	const pdf = await PDFDocument.create();
	for (let n = 1; n <= pages; n++) pdf.addPage([300, 400]).drawText(`Sheet ${n}`, { x: 40, y: 200, size: 30 });
	return Buffer.from(await pdf.save());
}

/** Writes a PDF where programs that are not ours find it, and lets one of them check it (`qpdf --check`). @returns its path */
export function checkedPdf(pdf: Uint8Array): string {
	const file = join(mkdtempSync(join(tmpdir(), 'lantern-pdf-')), 'made.pdf');
	writeFileSync(file, pdf);
	execFileSync('qpdf', ['--check', file]);
	return file;
}
