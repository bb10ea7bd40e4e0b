import type { FirmFacts } from '../../facts/fact-definition';
import ICAL from 'ical.js';
import iconv from 'iconv-lite';
import { decode } from 'libqp';
import { columnLabel, type ImportColumn } from './columns';
import { unreadable, type FileRow } from '../../tables/read-rows';
import { requireFewEnough, type ReadFile } from './list-file';

const CARD_COLUMNS = ['client', 'contact', 'email', 'phone', 'language', 'role', 'address'] as const satisfies readonly ImportColumn[];

/**
 * Cards of vCard 2.1 as those of 3.0 (RFC 2426): quoted-printable lines joined and decoded, bare parameters named (`TEL;CELL:` is
 * `TEL;TYPE=CELL:`), commas, which separate nothing there, escaped.
 */
function asNewCards(text: string): string {
	const lines: string[] = [];
	let quoted = false;
	for (const line of text.split(/\r\n|\r|\n/)) {
		if (quoted) lines.push(lines.pop()!.slice(0, -1) + line);
		else lines.push(line);
		quoted = /^[^:]*QUOTED-PRINTABLE[^:]*:/i.test(lines.at(-1)!) && line.endsWith('=');
	}
	return lines
		.map((line) => {
			if (/^VERSION:2\.1\s*$/i.test(line)) return 'VERSION:3.0';
			const colon = line.indexOf(':');
			if (colon < 0 || /^[ \t]/.test(line)) return line;
			const [name, ...given] = line.slice(0, colon).split(';');
			let value = line.slice(colon + 1);
			const kept: string[] = [];
			let charset = 'utf-8';
			let printable = false;
			for (const parameter of given) {
				const [key, word] = parameter.includes('=') ? parameter.split('=', 2) : ['', parameter];
				if (/^quoted-printable$/i.test(word)) printable = true;
				else if (/^charset$/i.test(key)) charset = word;
				else if (/^(base64|b)$/i.test(word)) kept.push('ENCODING=b');
				else if (!/^([78]bit)$/i.test(word)) kept.push(`${key || 'TYPE'}=${word}`);
			}
			if (printable)
				value = iconv.decode(Buffer.from(decode(value)), iconv.encodingExists(charset) ? charset : 'utf-8').replace(/\r\n|\r|\n/g, '\\n');
			return `${[name, ...kept].join(';')}:${value.replace(/(?<!\\),/g, '\\,')}`;
		})
		.join('\r\n');
}

/**
 * One card is one person; a card without an organisation is a person who is the client. A card of a group is nobody.
 * @throws DomainError unreadable_file, too_many
 */
export function readCards(text: string, encoding: string, facts: FirmFacts): ReadFile {
	let cards: ICAL.Component[];
	try {
		const parsed = ICAL.parse(/^VERSION:2\.1\s*$/im.test(text) ? asNewCards(text) : text) as unknown[];
		cards = (typeof parsed[0] === 'string' ? [parsed] : parsed).map((card) => new ICAL.Component(card as [string, unknown[], unknown[]]));
	} catch (cause) {
		throw unreadable(`These cards cannot be read: ${(cause as Error).message}. Nothing was read.`);
	}
	requireFewEnough(cards.length);
	const rows: FileRow[] = cards.flatMap((card, i) => {
		const parts = (name: string): string[] => {
			const value = card.getFirstPropertyValue(name) as unknown;
			return (Array.isArray(value) ? value.flat() : [value ?? '']).map((part) => String(part).trim());
		};
		const words = (name: string): string => parts(name).filter(Boolean).join(' ');
		if (/^group$/i.test(words('kind') || words('x-addressbookserver-kind'))) return [];
		// the family name comes first in N
		const [family = '', given = ''] = parts('n');
		// what follows the organisation are its units: a part of it, no part of its name
		const [organisation, ...units] = parts('org');
		return {
			line: i + 1,
			cells: [
				organisation,
				words('fn') || [given, family].filter(Boolean).join(' '),
				words('email'),
				words('tel').replace(/^tel:/i, ''),
				words('lang').slice(0, 2),
				words('title') || words('role') || units.filter(Boolean).join(', '),
				parts('adr').filter(Boolean).join('\n')
			]
		};
	});
	if (rows.length === 0) throw unreadable('These cards are groups, not people. Export the people and import that file.');
	return {
		format: `vCard, ${encoding}`,
		headingLine: null,
		header: CARD_COLUMNS.map((column) => columnLabel(column, facts)),
		columns: [...CARD_COLUMNS],
		rows
	};
}
