import { emailField } from '../people/plain-fields';
import { ownWords } from './own-words';

/** Says that the address of whoever writes is another one now. Whom to ask while somebody is away is no such word. */
const SAYS_SO = ownWords(
	[
		'new (?:e-?mail |mail |private )?(?:address|e-?mail)',
		'(?:e-?mail |mail )?address (?:has|have) changed',
		'changed (?:my|our) (?:e-?mail |mail )?address',
		'(?:address|mailbox|account) (?:is|will be) no longer (?:in use|used|read|active|monitored)',
		'no longer (?:use|read|check) this (?:address|mailbox|account)',
		'nouvelle adresse',
		'nouvel e-?mail',
		'adresse (?:e-?mail |mail |électronique |de messagerie )?a changé',
		"changé d[’']adresse",
		"(?:adresse|boîte) n[’']est plus (?:utilisée|lue|active|valable|relevée)",
		'neue (?:e-?mail-?|mail-?)?(?:adresse|e-?mail)',
		'adresse (?:hat sich )?geändert',
		'(?:adresse|postfach) (?:ist|wird) nicht mehr (?:in gebrauch|genutzt|gelesen|aktiv|gültig|verwendet)'
	].join('|')
);
const ADDRESS = /[^\s<>()[\]"“”«»,;:|@]{1,64}@[^\s<>()[\]"“”«»,;:|@]{1,190}\.\p{L}{2,24}/gu;
/** Sentences that may follow the one that says so and hold the address: it often stands on a line of its own. */
const REACH = 2;

/**
 * The address that a mail names as the new one of its sender; null where it says nothing of the kind, or names several.
 * @param text what they wrote, without what is quoted
 * @param known addresses that are none: theirs of today, and our own
 */
export function readNewAddress(text: string, known: readonly string[]): string | null {
	const sentences = text
		.slice(0, 4000)
		.split(/\n+|(?<=[.!?])\s+/)
		.map((sentence) => sentence.trim())
		.filter((sentence) => sentence !== '');
	const old = new Set(known.map((address) => address.toLowerCase()));
	const named = new Set<string>();
	sentences.forEach((sentence, at) => {
		if (!SAYS_SO.test(sentence)) return;
		for (const near of sentences.slice(at, at + 1 + REACH)) {
			const here = (near.match(ADDRESS) ?? [])
				.map((address) => address.replace(/\.+$/, '').toLowerCase())
				.filter((address) => !old.has(address) && emailField.safeParse(address).success);
			here.forEach((address) => named.add(address));
			if (here.length > 0) break;
		}
	});
	return named.size === 1 ? [...named][0] : null;
}
