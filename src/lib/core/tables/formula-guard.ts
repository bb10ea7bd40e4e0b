/** What spreadsheets take for the beginning of a formula. */
const FORMULA = /^[=+\-@\t\r]/;
/** A telephone number begins with a plus and does nothing. */
const PHONE = /^\+[\d ()-]+$/;

/** A cell that no spreadsheet runs: what looks like a formula gets an apostrophe before it (as OWASP advises for CSV). */
export function guardCell(text: string): string {
	return (FORMULA.test(text) && !PHONE.test(text)) || /^'+[=+\-@\t\r]/.test(text) ? `'${text}` : text;
}

/** The cell as it was before `guardCell`. */
export function unguardCell(text: string): string {
	return /^'+[=+\-@\t\r]/.test(text) ? text.slice(1) : text;
}
