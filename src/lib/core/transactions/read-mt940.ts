import { amountOf } from './amounts';
import { dayOfText } from './days';
import { FIELD_MAX, fieldText, unreadable, type StatementReader, type StatementLineSink } from './statement-line';

const KEPT = ['Value date', 'Entry date', 'Debit or credit', 'Amount', 'Type', 'Reference', 'Bank reference', 'Information', 'Account'] as const;

/** A balance: side, day, currency, amount. */
const BALANCE = /^([CD])(\d{6})([A-Z]{3})([\d,]{1,17})$/;
/** A line: value date, entry date, side, third letter of the currency, amount, type, reference, the bank's own reference. */
const LINE = /^(\d{6})(\d{4})?(R?[CD])([A-Z])?(\d[\d,]{0,16})([A-Z][A-Z0-9]{3})?([^\n]*?)(?:\/\/([^\n]*))?(?:\n([^]*))?$/;
/** Fields of a purpose that are set apart by ?20 and the like: what a payment is for, and whose it is. */
const PARTS = /\?(\d\d)([^?]*)/g;

const sum = (text: string) => amountOf(text.endsWith(',') ? `${text}00` : text, ',');
const dayOf = (yymmdd: string) => dayOfText(`20${yymmdd}`, 'ymd');

/**
 * Reads MT940, the statement of SWIFT: its lines with what the bank says of each, its balances and its days. Balances between two pages of one
 * statement (60M, 62M) are passed over. The days are those of the balances: the opening one is of the day before, or of the first day itself.
 */
export function readMt940(sink: StatementLineSink): StatementReader {
	let rest = '';
	let tag = '';
	let content = '';
	let account = '';
	let currency = '';
	let position = 0;
	let seen = false;
	let line: { raw: string; match: RegExpExecArray | null; words: string } | null = null;

	function closeLine() {
		if (!line) return;
		const { raw, match, words } = line;
		line = null;
		position++;
		const day = match && dayOf(match[1]);
		const size = match && sum(match[5]);
		if (!match || !day || !size) {
			sink.unread({ position, what: day ? 'has no amount that can be read' : 'has no day that can be read', text: raw.slice(0, 200) });
			return;
		}
		// what is taken back counts the other way round
		const out = match[3] === 'D' || match[3] === 'RC';
		const parts = [...words.matchAll(PARTS)];
		const of = (from: number, to: number) =>
			fieldText(
				parts
					.filter(([, n]) => Number(n) >= from && Number(n) <= to)
					.map(([, , text]) => text)
					.join(' ')
			);
		const who = of(32, 33);
		const purpose = parts.length > 0 ? [of(0, 0), of(20, 29), of(60, 63)].filter(Boolean).join(' · ') : fieldText(words);
		const reference = fieldText(match[8] ?? '') || fieldText(match[7] ?? '').replace(/^NONREF$/, '');
		sink.line({
			position,
			day,
			amount: out && /[1-9]/.test(size) ? `-${size}` : size,
			currency,
			who,
			words: (purpose || fieldText(match[9] ?? '')).slice(0, FIELD_MAX),
			category: '',
			reference,
			document: null,
			account,
			original: [match[1], match[2] ?? '', match[3], match[5], match[6] ?? '', match[7] ?? '', match[8] ?? '', fieldText(words), account]
		});
	}
	function closeTag() {
		const text = content.trimEnd();
		const was = tag;
		tag = content = '';
		if (was === '61') {
			closeLine();
			line = { raw: text, match: LINE.exec(text), words: '' };
			return;
		}
		if (was === '86') {
			// a purpose is cut into lines wherever it is full
			if (line) line.words = text.replaceAll('\n', '');
			return;
		}
		if (!was) return;
		closeLine();
		if (was === '20') account = currency = '';
		else if (was === '25') account = fieldText(text.split('\n')[0]);
		else if (was === '60F' || was === '62F' || was === '60M' || was === '62M') {
			seen = true;
			const balance = BALANCE.exec(text);
			const size = balance && sum(balance[4]);
			if (!balance || !size) return;
			currency = balance[3];
			if (was.endsWith('M')) return;
			const value = balance[1] === 'D' && /[1-9]/.test(size) ? `-${size}` : size;
			sink.told?.({ account, what: was === '60F' ? 'opening' : 'closing', value, day: dayOf(balance[2]), currency });
		}
	}
	function takeLine(text: string) {
		const begins = /^:(\d{2}[A-Z]?):(.*)$/.exec(text);
		if (begins) {
			closeTag();
			[tag, content] = [begins[1], begins[2]];
		} else if (/^(-|-\}.*|\{[^}]*.*)$/.test(text)) closeTag();
		else if (tag && content.length < FIELD_MAX * 2) content += `\n${text}`;
	}
	return {
		header: KEPT,
		write(piece) {
			const lines = (rest + piece).split(/\r\n|\r(?!$)|\n/);
			rest = lines.pop()!.slice(0, FIELD_MAX * 4);
			for (const text of lines) takeLine(text);
		},
		end() {
			takeLine(rest.replace(/\r$/, ''));
			closeTag();
			closeLine();
			if (!seen) throw unreadable('This looks like MT940, but has no balance in it. Download it from the bank again; nothing was read.');
		}
	};
}
