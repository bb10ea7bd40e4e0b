export type DecimalMark = '.' | ',';

const bareAmount = (text: string) => text.replace(/[\s\u00a0\u202f'’]/g, '').replace(/[−–]/g, '-');

/**
 * The decimal mark that a column of amounts is written with, told by the cells that leave no doubt: both marks in one (the
 * last is the decimal one), a mark before one or two digits at the end, a mark that occurs twice (it groups).
 */
export function decimalMarkOf(cells: Iterable<string>): DecimalMark {
	let comma = 0;
	let point = 0;
	for (const cell of cells) {
		const digits = bareAmount(cell).replace(/[^\d.,]/g, '');
		const [lastComma, lastPoint] = [digits.lastIndexOf(','), digits.lastIndexOf('.')];
		if (lastComma >= 0 && lastPoint >= 0) {
			if (lastComma > lastPoint) comma++;
			else point++;
		} else if (lastComma >= 0) {
			if (digits.indexOf(',') !== lastComma) point++;
			else if (digits.length - lastComma !== 4) comma++;
		} else if (lastPoint >= 0) {
			if (digits.indexOf('.') !== lastPoint) comma++;
			else if (digits.length - lastPoint !== 4) point++;
		}
	}
	return comma > point ? ',' : '.';
}

/**
 * An amount as banks write it, as an exact decimal with at least two decimals, or null if it is none: "-1,234.50",
 * "1.234,50-", "(12.5)", "12.50 DR", "$ 7", "−3". A debit sign (minus before or behind, brackets, DR or D behind) makes it negative.
 */
export function amountOf(text: string, mark: DecimalMark): string | null {
	// as most files write it
	if (mark === '.' && /^-?[1-9]\d{0,12}\.\d\d$/.test(text)) return text;
	let bare = bareAmount(text);
	let negative = false;
	const bracketed = /^\((.*)\)$/.exec(bare);
	if (bracketed) [negative, bare] = [true, bracketed[1]];
	const sided = /^(.*\d)(CR|DR|C|D)$/i.exec(bare);
	if (sided) {
		bare = sided[1];
		if (/^d/i.test(sided[2])) negative = !negative;
	}
	bare = bare.replace(/^([+-]?)(?:[A-Z]{3}|\p{Sc})|(?:[A-Z]{3}|\p{Sc})$/gu, '$1');
	const signed = /^([+-]?)([\d.,]+)([+-]?)$/.exec(bare.replace(/^\p{Sc}/u, ''));
	if (!signed || (signed[1] && signed[3])) return null;
	if (signed[1] === '-' || signed[3] === '-') negative = !negative;
	const group = mark === '.' ? ',' : '.';
	const [whole, fraction, ...more] = signed[2].split(mark);
	if (more.length > 0 || fraction?.includes(group) || (whole.includes(group) && !/^\d{1,3}(.\d{2,3})*.\d{3}$/.test(whole))) return null;
	const digits = whole.replaceAll(group, '').replace(/^0+(?=\d)/, '') || '0';
	if (!/^\d{1,13}$/.test(digits) || (fraction && fraction.length > 6) || (whole === '' && !fraction)) return null;
	const decimals = (fraction ?? '').replace(/0+$/, '').padEnd(2, '0');
	return `${negative && /[1-9]/.test(digits + decimals) ? '-' : ''}${digits}.${decimals}`;
}

/** The amount with the other sign. */
export function negated(amount: string): string {
	return /^-/.test(amount) ? amount.slice(1) : /[1-9]/.test(amount) ? `-${amount}` : amount;
}
