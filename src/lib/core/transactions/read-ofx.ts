import { amountOf } from './amounts';
import { dayOfText } from './days';
import { FIELD_MAX, fieldText, unreadable, type StatementReader, type StatementLineSink, type StatementTold } from './statement-line';

/** The fields of a line that are kept as they stand in the file. */
const KEPT = ['FITID', 'DTPOSTED', 'TRNAMT', 'TRNTYPE', 'NAME', 'MEMO', 'CHECKNUM', 'REFNUM', 'ACCTID', 'CURRENCY'] as const;
type Field = (typeof KEPT)[number] | 'EXTDNAME' | 'CURSYM';
/** Fields of the statement as a whole: the days of its list, and of its balance. */
const OF_THE_WHOLE = new Set(['DTSTART', 'DTEND', 'BALAMT', 'DTASOF']);

const ENTITIES: Record<string, string> = { amp: '&', lt: '<', gt: '>', quot: '"', apos: "'", nbsp: ' ' };
const unescaped = (text: string) =>
	text.replace(/&(?:#(\d{1,7})|#x([\da-f]{1,6})|(\w{2,6}));/gi, (whole, decimal, hex, name) => {
		if (name) return ENTITIES[name.toLowerCase()] ?? whole;
		const code = decimal ? Number(decimal) : parseInt(hex, 16);
		return code > 0 && code <= 0x10ffff ? String.fromCodePoint(code) : whole;
	});

/** Longest name of a tag; what goes on longer was a sign in somebody's words. */
const TAG_MAX = 200;

/**
 * Reads the transactions of OFX 1.x (SGML, where fields are not closed) and 2.x (XML), and of QFX, which is the same with
 * more tags: bank, card and investment-bank statements, several accounts in one file. Tags in any case; fields closed or
 * not; CDATA; bare ampersands and less-than signs; decimal commas; what is missing is told.
 */
export function readOfx(sink: StatementLineSink): StatementReader {
	let rest = '';
	let inside: 'text' | 'cdata' | 'comment' = 'text';
	let seen = false;
	let position = 0;
	/** the field that is open, and what stands in it so far */
	let field = '';
	let value = '';
	let account = '';
	let currency = '';
	let line: Partial<Record<Field, string>> | null = null;
	/** within the other side's account, or in an amount in another currency: those fields are not the line's */
	let aside = '';
	/** within the list of lines, or the balance as the bank's books have it */
	let within: 'BANKTRANLIST' | 'LEDGERBAL' | '' = '';
	let whole: Record<string, string> = {};

	const grow = (text: string) => {
		if (field && value.length < FIELD_MAX * 2) value += text.slice(0, FIELD_MAX * 2 - value.length);
	};
	function closeField() {
		const text = fieldText(unescaped(value));
		if (field && text && !aside) {
			if (line) {
				if (line[field as Field] === undefined) line[field as Field] = text;
			} else if (field === 'ACCTID') account = text;
			else if (field === 'CURDEF') currency = text.toUpperCase().slice(0, 3);
			else if (within && OF_THE_WHOLE.has(field)) whole[field] = text;
		}
		field = value = '';
	}
	function closeLine() {
		if (!line) return;
		const it = line;
		line = null;
		aside = '';
		position++;
		const day = dayOfText(it.DTPOSTED?.slice(0, 8) ?? '', 'ymd');
		const raw = it.TRNAMT ?? '';
		const amount = amountOf(raw, raw.lastIndexOf(',') > raw.lastIndexOf('.') ? ',' : '.');
		if (!day || !amount) {
			sink.unread({
				position,
				what: day ? 'has no amount that can be read' : 'has no day that can be read',
				text: Object.entries(it)
					.map(([name, text]) => `${name} ${text}`)
					.join(', ')
					.slice(0, 200)
			});
			return;
		}
		const own = { ...it, ACCTID: account, CURRENCY: it.CURSYM ?? currency };
		sink.line({
			position,
			day,
			amount,
			currency: own.CURRENCY,
			who: it.NAME ?? it.EXTDNAME ?? '',
			words: it.MEMO ?? '',
			category: '',
			reference: it.FITID ?? '',
			document: null,
			account,
			original: KEPT.map((name) => own[name] ?? '')
		});
	}
	/** Tells what stood in the list's head or in the balance. */
	function closeWhole() {
		const day = (name: string) => dayOfText(whole[name]?.slice(0, 8) ?? '', 'ymd');
		const tell = (what: StatementTold['what'], value: string | null, of: string | null) =>
			value !== null && sink.told?.({ account, what, value, day: of, currency });
		if (within === 'BANKTRANLIST') {
			tell('from', day('DTSTART'), null);
			tell('to', day('DTEND'), null);
		} else if (whole.BALAMT !== undefined) {
			const mark = whole.BALAMT.lastIndexOf(',') > whole.BALAMT.lastIndexOf('.') ? ',' : '.';
			tell('closing', amountOf(whole.BALAMT, mark), day('DTASOF'));
		}
		within = '';
		whole = {};
	}
	function tag(raw: string) {
		closeField();
		const closing = raw.startsWith('/');
		const name = /^\/?([\w.]+)/.exec(raw)?.[1].toUpperCase() ?? '';
		if (name === 'OFX') seen = true;
		if (name === 'STMTTRN') {
			closeLine();
			if (!closing) line = {};
		} else if (closing) {
			if (name === aside) aside = '';
			if (name === 'BANKTRANLIST') closeLine();
			if (name === within) closeWhole();
		} else if (line && (name === 'BANKACCTTO' || name === 'CCACCTTO' || name === 'ORIGCURRENCY')) aside = name;
		else if (name === 'BANKTRANLIST' || name === 'LEDGERBAL') {
			within = name;
			whole = {};
		} else if (!raw.endsWith('/')) field = name;
	}
	function take(text: string) {
		rest += text;
		while (rest) {
			if (inside !== 'text') {
				const end = inside === 'cdata' ? ']]>' : '-->';
				const at = rest.indexOf(end);
				const whole = at >= 0 ? rest.slice(0, at) : rest.slice(0, -2);
				// what stands in CDATA means itself
				if (inside === 'cdata') grow(whole.replaceAll('&', '&amp;'));
				rest = at >= 0 ? rest.slice(at + 3) : rest.slice(-2);
				if (at < 0) return;
				inside = 'text';
				continue;
			}
			const at = rest.indexOf('<');
			grow(at < 0 ? rest : rest.slice(0, at));
			rest = at < 0 ? '' : rest.slice(at);
			if (!rest) return;
			if (rest.startsWith('<![CDATA[')) [inside, rest] = ['cdata', rest.slice(9)];
			else if (rest.startsWith('<!--')) [inside, rest] = ['comment', rest.slice(4)];
			else if (rest.length < 9 && /^<(!|$)/.test(rest)) return;
			else if (!/^<[/?!A-Za-z]/.test(rest)) {
				grow('<');
				rest = rest.slice(1);
			} else {
				const end = rest.indexOf('>');
				const next = rest.indexOf('<', 1);
				if ((end < 0 && rest.length > TAG_MAX) || end > TAG_MAX || (next > 0 && (end < 0 || next < end))) {
					grow('<');
					rest = rest.slice(1);
				} else if (end < 0) return;
				else {
					tag(rest.slice(1, end));
					rest = rest.slice(end + 1);
				}
			}
		}
	}
	return {
		header: KEPT,
		write: take,
		end() {
			grow(rest);
			closeField();
			closeLine();
			if (!seen) throw unreadable('This looks like OFX, but has no statement in it. Download it from the bank again; nothing was read.');
		}
	};
}
