import { SaxesParser } from 'saxes';
import { amountOf } from './amounts';
import { dayOfText } from './days';
import { FIELD_MAX, fieldText, unreadable, type StatementReader, type StatementLineSink } from './statement-line';

const KEPT = ['Reference', 'Entry', 'End-to-end', 'Booked', 'Amount', 'Currency', 'Credit or debit', 'Name', 'Remittance', 'Account'] as const;

/** Fields of an entry, or of one transaction in it, by what they are; whatever their place says. */
interface Fields {
	amount: string;
	currency: string;
	side: string;
	name: { Cdtr: string; Dbtr: string };
	remittance: string[];
	servicerReference: string;
	endToEnd: string;
	transactionId: string;
	extra: string;
}
interface Entry extends Fields {
	booked: string;
	valued: string;
	status: string;
	entryReference: string;
	parts: Fields[];
}
const newFields = (): Fields => ({
	amount: '',
	currency: '',
	side: '',
	name: { Cdtr: '', Dbtr: '' },
	remittance: [],
	servicerReference: '',
	endToEnd: '',
	transactionId: '',
	extra: ''
});

/** millionths, for adding up exactly */
const millionths = (amount: string) => {
	const [whole, fraction] = amount.replace('-', '').split('.');
	return BigInt(whole + fraction.padEnd(6, '0'));
};

/**
 * Reads the booked entries of camt.053 (ISO 20022, any version; also camt.052 and 054, whose entries are the same). An entry
 * that gathers several payments gives a line each where their amounts add up to it. Entries that wait are told as such.
 * Entities of a document type are never resolved.
 */
export function readCamt(sink: StatementLineSink): StatementReader {
	const parser = new SaxesParser({ xmlns: false });
	const path: string[] = [];
	let seen = false;
	let text = '';
	let attributeCurrency = '';
	let account = '';
	let entry: Entry | null = null;
	let part: Fields | null = null;
	let position = 0;
	let balance = { kind: '', amount: '', currency: '', side: '', day: '' };
	let period = { from: '', to: '' };

	parser.on('error', (error) => {
		throw unreadable(`This file is damaged: ${error.message.slice(0, 120)}. Download it from the bank again; nothing was read.`);
	});
	parser.on('opentag', ({ name, attributes }) => {
		const local = name.slice(name.indexOf(':') + 1);
		path.push(local);
		text = '';
		if (/^BkToCstmr/.test(local)) seen = true;
		else if (local === 'Ntry') entry = { ...newFields(), booked: '', valued: '', status: '', entryReference: '', parts: [] };
		else if (local === 'TxDtls' && entry) part = newFields();
		else if (local === 'Amt') attributeCurrency = typeof attributes.Ccy === 'string' ? attributes.Ccy.trim() : '';
		else if (local === 'Bal') balance = { kind: '', amount: '', currency: '', side: '', day: '' };
		else if (local === 'Stmt' || local === 'Rpt' || local === 'Ntfctn') {
			account = '';
			period = { from: '', to: '' };
		}
	});
	const grow = (more: string) => {
		if (text.length < FIELD_MAX * 2) text += more.slice(0, FIELD_MAX * 2 - text.length);
	};
	parser.on('text', grow);
	parser.on('cdata', grow);
	parser.on('closetag', () => {
		const local = path.pop()!;
		const value = fieldText(text);
		const above = path.at(-1);
		text = '';
		if (!entry) {
			if (path.at(-2) === 'Acct' && above === 'Id' && local === 'IBAN') account = value;
			else if (above === 'Othr' && local === 'Id' && path.includes('Acct') && !account) account = value;
			else ofTheWhole(local, above ?? '', value);
			return;
		}
		if (local === 'Ntry') {
			tell(entry);
			entry = null;
			return;
		}
		if (local === 'TxDtls') {
			entry.parts.push(part!);
			part = null;
			return;
		}
		if (!value) return;
		const of = part ?? entry;
		if (above === 'BookgDt') entry.booked ||= value;
		else if (above === 'ValDt') entry.valued ||= value;
		else if (local === 'Sts' || above === 'Sts') entry.status ||= value;
		else if (local === 'NtryRef') entry.entryReference = value;
		else if (local === 'Amt' && (above === 'Ntry' || above === 'TxDtls' || above === 'TxAmt')) {
			// the amount as it was booked, not the one instructed in another currency
			if (above !== 'TxAmt' || !of.amount) [of.amount, of.currency] = [value, attributeCurrency];
		} else if (local === 'CdtDbtInd' && (above === 'Ntry' || above === 'TxDtls')) of.side = value;
		else if (local === 'AcctSvcrRef') of.servicerReference ||= value;
		else if (local === 'EndToEndId') of.endToEnd ||= value === 'NOTPROVIDED' ? '' : value;
		else if (local === 'TxId') of.transactionId ||= value;
		else if (local === 'Ustrd' || (local === 'Ref' && above === 'CdtrRefInf')) of.remittance.push(value);
		else if (local === 'Nm') {
			const side = path.findLast((step) => /^(Ultmt)?(Cdtr|Dbtr)$/.test(step));
			if (side) of.name[side.endsWith('Cdtr') ? 'Cdtr' : 'Dbtr'] ||= value;
		} else if (local === 'AddtlNtryInf' || local === 'AddtlTxInf') of.extra ||= value;
	});

	/** What stands outside the entries: the days that the statement is about, and its balances. */
	function ofTheWhole(local: string, above: string, value: string) {
		if (local === 'FrDtTm' || local === 'FrDt') period.from = value;
		else if (local === 'ToDtTm' || local === 'ToDt') period.to = value;
		else if (above === 'CdOrPrtry' && local === 'Cd' && path.includes('Bal')) balance.kind = value;
		else if (above === 'Bal' && local === 'Amt') [balance.amount, balance.currency] = [value, attributeCurrency];
		else if (above === 'Bal' && local === 'CdtDbtInd') balance.side = value;
		else if ((above === 'Dt' || above === 'Bal') && /^Dt(Tm)?$/.test(local) && path.includes('Bal') && value) balance.day = value;
		else if (local === 'Bal') tellBalance();
		// the account may be named after the days
		else if (/^(Stmt|Rpt|Ntfctn)$/.test(local))
			for (const what of ['from', 'to'] as const) {
				const day = dayOfText(period[what].slice(0, 10), 'ymd');
				if (day) sink.told?.({ account, what, value: day, day: null, currency: '' });
			}
	}
	function tellBalance() {
		const what = /^(OPBD|PRCD)$/.test(balance.kind) ? 'opening' : balance.kind === 'CLBD' ? 'closing' : null;
		const size = amountOf(balance.amount, '.');
		if (!what || size === null) return;
		const value = balance.side === 'DBIT' && /[1-9]/.test(size) ? `-${size.replace(/^-/, '')}` : size;
		sink.told?.({ account, what, value, day: dayOfText(balance.day.slice(0, 10), 'ymd'), currency: balance.currency });
	}

	function tell(of: Entry) {
		const booked = of.booked || of.valued;
		const day = dayOfText(booked.slice(0, 10), 'ymd');
		const whole = amountOf(of.amount, '.');
		const waits = /^(PDNG|INFO|FUTR)$/.test(of.status);
		if (!day || !whole || waits) {
			position++;
			sink.unread({
				position,
				what: waits ? 'is not booked yet' : day ? 'has no amount that can be read' : 'has no day that can be read',
				text: [booked, of.amount, of.currency, of.entryReference, of.extra].filter(Boolean).join(' ').slice(0, 200)
			});
			return;
		}
		const amounts = of.parts.map((one) => amountOf(one.amount, '.'));
		const apart =
			of.parts.length > 1 &&
			amounts.every((amount) => amount !== null) &&
			of.parts.every((one) => (!one.currency || one.currency === of.currency) && (!one.side || one.side === of.side)) &&
			amounts.reduce((sum, amount) => sum + millionths(amount!), 0n) === millionths(whole);
		for (const [i, one] of (apart ? of.parts : [of.parts.length === 1 ? of.parts[0] : newFields()]).entries()) {
			const out = of.side === 'DBIT';
			const size = (apart ? amounts[i]! : whole).replace(/^-/, '');
			const amount = out && /[1-9]/.test(size) ? `-${size}` : size;
			const name = out ? one.name.Cdtr || of.name.Cdtr : one.name.Dbtr || of.name.Dbtr;
			const remittance = fieldText((one.remittance.length > 0 ? one.remittance : of.remittance).join(' '));
			const own = one.servicerReference || of.servicerReference || of.entryReference || one.transactionId || one.endToEnd;
			// several payments of one entry may share its reference
			const reference = own && apart && !one.servicerReference ? `${own}/${i + 1}` : own;
			position++;
			sink.line({
				position,
				day,
				amount,
				currency: of.currency,
				who: name,
				words: [remittance, one.extra || of.extra].filter(Boolean).join(' · ').slice(0, FIELD_MAX),
				category: '',
				reference,
				document: null,
				account,
				original: [
					reference,
					of.entryReference,
					one.endToEnd,
					booked,
					apart ? one.amount : of.amount,
					of.currency,
					of.side,
					name,
					remittance,
					account
				]
			});
		}
	}
	return {
		header: KEPT,
		write: (piece) => void parser.write(piece),
		end() {
			parser.close();
			if (!seen) throw unreadable('This is XML, but no statement of a bank (camt.053). Download it from the bank again; nothing was read.');
		}
	};
}
