import { amountOf, decimalMarkOf } from './amounts';
import { dateOrderOf, dayOfText, type DateOrder } from './days';
import { FIELD_MAX, fieldText, unreadable, type StatementReader, type StatementLineSink } from './statement-line';

const KEPT = ['D', 'T', 'N', 'P', 'M', 'L'] as const;
type Code = (typeof KEPT)[number];

/** Sections that hold transactions; lists of categories, classes and accounts hold none. */
const SECTIONS = /^!type:\s*(bank|cash|ccard|oth a|oth l)\b/i;

/**
 * Reads QIF: records of lines with a letter each, closed by ^. Bank, cash, card and other accounts; what is no transaction
 * (categories, the list of accounts, memorised ones, investments) is passed over. The order of day and month is told by the
 * whole file, so its lines come at the end.
 * @param given the order of dates, where a person chose it
 */
export function readQif(sink: StatementLineSink, given: { order: DateOrder | null }): StatementReader & { orderFound(): DateOrder | null } {
	let rest = '';
	let skipped = false;
	let inSection = false;
	let inAccount = false;
	let account = '';
	let record: Partial<Record<Code | 'U' | 'A', string>> = {};
	let found: DateOrder | null = null;
	let seen = false;
	const records: { fields: typeof record; account: string }[] = [];

	function closeRecord() {
		if (inSection && Object.keys(record).length > 0) records.push({ fields: record, account });
		record = {};
	}
	function takeLine(raw: string) {
		const line = fieldText(raw);
		if (line === '') return;
		if (line.startsWith('!')) {
			closeRecord();
			inAccount = /^!account/i.test(line);
			inSection = SECTIONS.test(line);
			seen ||= inSection || inAccount || /^!type:/i.test(line);
			return;
		}
		if (inAccount) {
			if (line.startsWith('N')) account = line.slice(1).trim();
			return;
		}
		if (line === '^') return closeRecord();
		const code = line[0].toUpperCase() as Code | 'U' | 'A';
		// of a split transaction the whole is asked about; S, E and $ are its parts
		if ((KEPT as readonly string[]).includes(code) || code === 'U') record[code] ??= line.slice(1).trim();
	}
	return {
		header: ['Date', 'Amount', 'Number', 'Payee', 'Memo', 'Category'],
		orderFound: () => found,
		write(text) {
			const lines = (rest + text).split(/\r\n|[\r\n]/);
			rest = lines.pop()!;
			for (const [i, line] of lines.entries()) if (!(i === 0 && skipped)) takeLine(line);
			if (lines.length > 0) skipped = false;
			// nobody reads on in a line of a million letters: its beginning is taken, the rest passed over
			if (rest.length > FIELD_MAX * 4) {
				if (!skipped) takeLine(rest.slice(0, FIELD_MAX));
				skipped = true;
				rest = '';
			}
		},
		end() {
			if (!skipped) takeLine(rest);
			closeRecord();
			if (!seen) throw unreadable('This looks like QIF, but has no transactions in it. Download it from the bank again; nothing was read.');
			const amountText = (fields: typeof record) => fields.T ?? fields.U ?? '';
			const mark = decimalMarkOf(records.map(({ fields }) => amountText(fields)));
			// 1/31'26: the apostrophe stands before a year of this century
			const dayText = (fields: typeof record) => (fields.D ?? '').replace(/\s*'\s*/, '/').replace(/\/\s+/g, '/');
			found = dateOrderOf(records.map(({ fields }) => dayText(fields)));
			const order = given.order ?? found ?? 'mdy';
			for (const [i, { fields, account: of }] of records.entries()) {
				const day = dayOfText(dayText(fields), order);
				const amount = amountOf(amountText(fields), mark);
				if (day && amount)
					sink.line({
						position: i + 1,
						day,
						amount,
						currency: '',
						who: fields.P ?? '',
						words: fields.M ?? '',
						category: fields.L ?? '',
						reference: '',
						document: null,
						account: of,
						original: [fields.D ?? '', amountText(fields), fields.N ?? '', fields.P ?? '', fields.M ?? '', fields.L ?? '']
					});
				else
					sink.unread({
						position: i + 1,
						what: day ? 'has no amount that can be read' : 'has no day that can be read',
						text: Object.entries(fields)
							.map(([code, text]) => `${code}${text}`)
							.join(' ')
							.slice(0, 200)
					});
			}
		}
	};
}
