import iconv from 'iconv-lite';
import { readCamt } from './read-camt';
import { readCsv, type CsvChoices, type CsvFound } from './read-csv';
import { readMt940 } from './read-mt940';
import { readOfx } from './read-ofx';
import { readQif } from './read-qif';
import { countedSink, unreadable, type StatementFormat, type StatementReader, type StatementLineSink } from './statement-line';

/** How a file was read. */
export interface ReadStatement extends CsvFound {
	format: StatementFormat;
	header: readonly string[];
}

function joined(one: Uint8Array, two: Uint8Array): Uint8Array {
	const whole = new Uint8Array(one.length + two.length);
	whole.set(one);
	whole.set(two, one.length);
	return whole;
}
const begins = (bytes: Uint8Array, ...signs: number[]) => signs.every((sign, i) => bytes[i] === sign);

/** The encoding of a file by its first bytes: a mark, zeros, what its head declares; null is UTF-8, or Windows-1252 where it turns out not to be. */
function encodingOf(head: Uint8Array): string | null {
	if (begins(head, 0x50, 0x4b, 0x03, 0x04) || begins(head, 0xd0, 0xcf, 0x11, 0xe0))
		throw unreadable('This is a spreadsheet, whatever its name says. Open it, save it as CSV, and import that.');
	if (begins(head, 0x25, 0x50, 0x44, 0x46)) throw unreadable('This is a PDF. Ask the bank for CSV, OFX, QIF, camt.053 or MT940, and import that.');
	if (begins(head, 0xff, 0xfe)) return 'utf-16le';
	if (begins(head, 0xfe, 0xff)) return 'utf-16be';
	const first = head.subarray(0, 2000);
	const zeros = [0, 1].map((start) => first.filter((byte, i) => i % 2 === start && byte === 0).length / Math.max(1, first.length / 2));
	if (zeros[1] > 0.6 && zeros[0] < 0.1) return 'utf-16le';
	if (zeros[0] > 0.6 && zeros[1] < 0.1) return 'utf-16be';
	if (first.includes(0))
		throw unreadable('This is not a file of transactions in text. Ask the bank for CSV, OFX, QIF, camt.053 or MT940, and import that.');
	if (begins(head, 0xef, 0xbb, 0xbf)) return null;
	const text = new TextDecoder('latin1').decode(first);
	const declared = /^\s*<\?xml[^>]*\bencoding\s*=\s*["']([\w.-]+)["']/i.exec(text)?.[1] ?? /^CHARSET:\s*([\w-]+)/im.exec(text)?.[1] ?? '';
	const name = /^\d{3,5}$/.test(declared) ? `windows-${declared}` : declared;
	// many say ISO-8859-1 and write Windows-1252, which holds it
	if (/^(iso-?8859-1|latin-?1|us-?ascii|windows-1252)$/i.test(name)) return null;
	return name && !/^(utf-?8|none)$/i.test(name) && iconv.encodingExists(name) ? name : null;
}

/** Turns bytes into text piece by piece. UTF-8 that breaks goes on as Windows-1252, unless it was UTF-8 beyond doubt before. */
function textOf(encoding: string | null): { write(bytes: Uint8Array): string; end(): string } {
	if (encoding) {
		const decoder = iconv.getDecoder(encoding);
		return { write: (bytes) => decoder.write(bytes as Buffer), end: () => decoder.end() ?? '' };
	}
	const strict = new TextDecoder('utf-8', { fatal: true, ignoreBOM: true });
	const lenient = new TextDecoder('utf-8', { ignoreBOM: true });
	let carry: Uint8Array = new Uint8Array();
	let sure = false;
	let other = false;
	const decode = (bytes: Uint8Array): string => {
		if (other) return iconv.decode(bytes as Buffer, 'windows-1252');
		try {
			const text = strict.decode(bytes);
			sure ||= text.length < bytes.length;
			return text;
		} catch {
			if (sure) return lenient.decode(bytes);
			other = true;
			return decode(bytes);
		}
	};
	return {
		write(bytes) {
			const whole = carry.length > 0 ? joined(carry, bytes) : bytes;
			// cut behind the last sign that stands for itself, so that no letter is cut in two
			let cut = whole.length;
			while (cut > 0 && whole.length - cut < 8 && whole[cut - 1] >= 0x80) cut--;
			carry = whole.slice(cut);
			return decode(whole.subarray(0, cut));
		},
		end: () => decode(carry)
	};
}

/** Which form a file has, by how it begins. */
export function formatOf(head: string): StatementFormat {
	const start = head.replace(/^\ufeff/, '').trimStart();
	if (/^(OFXHEADER|<\?OFX|<OFX)/i.test(start) || /<OFX>/i.test(head)) return 'ofx';
	if (/^!(type|account|option|clear)\b/i.test(start)) return 'qif';
	if (/^(\{1:|:20:)/.test(start)) return 'mt940';
	if (/^<(\?xml|\w*:?Document)/i.test(start)) return 'camt';
	return 'csv';
}

/** Enough to tell form and encoding. */
const HEAD_BYTES = 4096;

/**
 * Reads the lines of a bank's or ledger's file, piece by piece: CSV, OFX and QFX, QIF, camt.053, MT940; in UTF-8, UTF-16,
 * Windows-1252 or what its head declares.
 * @param choices what a person chose about a table
 * @throws DomainError unreadable_file saying what it is instead; too_many
 */
export async function readStatement(
	pieces: AsyncIterable<Uint8Array> | Iterable<Uint8Array>,
	choices: CsvChoices,
	sink: StatementLineSink
): Promise<ReadStatement> {
	let head: Uint8Array = new Uint8Array();
	let text: ReturnType<typeof textOf> | undefined;
	let reader: StatementReader | undefined;
	let format: StatementFormat = 'csv';
	const counted = countedSink(sink);
	const begin = () => {
		if (head.length === 0) throw unreadable('This file is empty.');
		text = textOf(encodingOf(head));
		const first = text.write(head).replace(/^\ufeff/, '');
		format = formatOf(first);
		reader =
			format === 'ofx'
				? readOfx(counted)
				: format === 'qif'
					? readQif(counted, choices)
					: format === 'camt'
						? readCamt(counted)
						: format === 'mt940'
							? readMt940(counted)
							: readCsv(counted, choices);
		reader.write(first);
	};
	for await (const piece of pieces) {
		if (reader) reader.write(text!.write(piece));
		else {
			head = head.length > 0 ? joined(head, piece) : piece;
			if (head.length >= HEAD_BYTES) begin();
		}
	}
	if (!reader) begin();
	reader!.write(text!.end());
	reader!.end();
	const found = 'found' in reader! ? (reader as ReturnType<typeof readCsv>).found() : { columns: [], mark: '.' as const, order: null };
	return {
		...found,
		order: 'orderFound' in reader! ? (reader as ReturnType<typeof readQif>).orderFound() : format === 'csv' ? found.order : 'ymd',
		format,
		header: reader!.header
	};
}
