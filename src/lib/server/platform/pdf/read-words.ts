import type { PrintedPage } from '$lib/core/statements/printed/page-lines';
import { labelOfSum, readPrintedStatements, type LearntLabel, type StatementReading } from '$lib/core/statements/printed/read-printed';
import { openPdf } from './open-pdf';

/** What a paper is stands on its first pages. */
const WORD_PAGES_MOST = 5;
const WORDS_MOST = 20_000;
/** A statement is not longer than this, and a sum at its end still belongs to it. */
const PAGES_MOST = 60;
const RUNS_MOST = 60_000;

/** What is read of a paper. */
export interface PaperWords {
	/** of its first pages, a line of the page a line; null where there are none: a scan is a picture */
	words: string | null;
	pages: number;
	statements: StatementReading[];
}

// a control character would be refused by the database
const clean = (text: string) => text.toWellFormed().replace(/[\u0000-\u0008\u000b-\u001f]/g, ' ');

/** The words of a PDF and where they stand. @returns null if the file cannot be read or is locked */
export async function readPrintedPages(pdf: Uint8Array): Promise<{ pages: PrintedPage[]; words: string; count: number } | null> {
	const loading = openPdf(pdf);
	try {
		const document = await loading.promise;
		const pages: PrintedPage[] = [];
		let [words, runs] = ['', 0];
		for (let n = 1; n <= Math.min(PAGES_MOST, document.numPages) && runs < RUNS_MOST; n++) {
			const page = await document.getPage(n);
			const view = page.getViewport({ scale: 1 });
			const { items } = await page.getTextContent();
			const printed: PrintedPage = { width: view.width, height: view.height, runs: [] };
			for (const item of items) {
				if (!('str' in item)) continue;
				if (n <= WORD_PAGES_MOST && words.length < WORDS_MOST) words += item.hasEOL ? `${item.str}\n` : item.str;
				const [, b, c, d, x, y] = item.transform as number[];
				// what stands on its side is a mark of the printer
				if (!item.str.trim() || Math.abs(b) > 0.01 || Math.abs(c) > 0.01) continue;
				const [left, foot] = view.convertToViewportPoint(x, y);
				printed.runs.push({ text: clean(item.str).replace(/\s+/g, ' '), x: left, y: foot, width: item.width, height: Math.abs(d) });
				runs++;
			}
			words += '\n';
			pages.push(printed);
			page.cleanup();
		}
		return { pages, words: clean(words).trim().slice(0, WORDS_MOST), count: document.numPages };
	} catch {
		return null;
	} finally {
		await loading.destroy();
	}
}

/** Reads the words of a PDF, and the statements that it holds. @returns null if the file cannot be read or is locked */
export async function readPaperWords(pdf: Uint8Array, learnt: readonly LearntLabel[]): Promise<PaperWords | null> {
	const read = await readPrintedPages(pdf);
	return read && { words: read.words || null, pages: read.count, statements: readPrintedStatements(read.pages, learnt) };
}

/** What a PDF calls a sum, see `labelOfSum`. */
export async function readLabel(pdf: Uint8Array, amount: string): Promise<string | null> {
	const read = await readPrintedPages(pdf);
	return read && labelOfSum(read.pages, amount);
}
