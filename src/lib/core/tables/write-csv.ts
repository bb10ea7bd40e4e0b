import Papa from 'papaparse';

/**
 * Rows as CSV (RFC 4180) with UTF-8's mark. A spreadsheet set to another separator would split a cell at it, and run what follows as a
 * formula: such cells are quoted too. Cells that begin as a formula are the caller's; see `guardCell`.
 */
export function writeCsv(rows: readonly (readonly string[])[]): string {
	return `\ufeff${Papa.unparse(rows as string[][], { newline: '\r\n', quotes: (cell: unknown) => /[;\t|]/.test(String(cell)) })}\r\n`;
}
