import Papa from 'papaparse';
import { decodeText } from '../tables/decode-text';

/** What stands in a paper that has no pages. */
export type PaperInside =
	| { kind: 'text'; text: string; /** there is more than is shown */ more: boolean }
	| { kind: 'table'; rows: string[][]; more: boolean }
	| {
			kind: 'mail';
			from: string;
			to: string;
			subject: string;
			/** when it was written, as it says itself: an instant, and on its way to a page in words */ at: string | null;
			text: string;
			more: boolean;
			files: { name: string; bytes: number }[];
	  };

/** Letters of a text, rows of a table and cells of a row that are shown. */
const [LETTERS_MOST, ROWS_MOST, CELLS_MOST, CELL_LETTERS] = [60_000, 400, 40, 400];
/** Bytes of a text that are read. */
export const TEXT_BYTES_MOST = 400_000;

/** Cuts a text to what is shown of it. */
export const shownText = (text: string): { text: string; more: boolean } => ({ text: text.slice(0, LETTERS_MOST), more: text.length > LETTERS_MOST });

/**
 * What stands in a file of text: a table where its name says that it is one (CSV, RFC 4180, with commas, semicolons or tabs), else its words.
 * @param bytes its first bytes
 * @param whole whether these are all
 * @returns null if it is no text
 */
export function textInside(name: string, bytes: Uint8Array, whole: boolean): PaperInside | null {
	const read = decodeText(bytes);
	if (!read) return null;
	// a letter may be cut in two at the end of what was read
	const text = whole ? read.text : read.text.slice(0, -4);
	if (!/\.(csv|tsv)$/i.test(name)) {
		const shown = shownText(text);
		return { kind: 'text', ...shown, more: shown.more || !whole };
	}
	const { data } = Papa.parse<string[]>(text, { preview: ROWS_MOST + 1, skipEmptyLines: true });
	const rows = data.slice(0, ROWS_MOST).map((row) => row.slice(0, CELLS_MOST).map((cell) => cell.slice(0, CELL_LETTERS)));
	return { kind: 'table', rows, more: data.length > ROWS_MOST || !whole };
}
