/** Somebody of the firm who can be named. */
export interface Colleague {
	id: string;
	name: string;
}

/** Whom the words of a note name, each once, in the order of the words. */
export interface Named<C extends Colleague = Colleague> {
	/** who is told */ told: C[];
	/** first names that several have: nobody is told until it is clear who is meant */ unclear: string[];
	/** names that nobody has who can be told */ unknown: string[];
}

/** Where a colleague is named: `@`, not inside an address or a word, and what follows up to the end of the line. */
const AT = /(?<![\p{L}\p{N}._%+-])@(?=\p{L})([^\n@]*)/gu;
const WORD = /^[\p{L}\p{M}\p{N}]+(?:[-’'][\p{L}\p{M}\p{N}]+)*/u;

const folded = (words: string): string => words.normalize('NFC').replace(/\s+/g, ' ').toLocaleLowerCase('en');
/** Whether a text begins with a name that does not go on as a longer word. */
const begins = (text: string, name: string): boolean => text.startsWith(name) && !/^[\p{L}\p{M}\p{N}]/u.test(text.slice(name.length));
const firstName = (name: string): string => folded(name).split(' ')[0];

/** The colleague whose name stands at the beginning of a text: the longest whole name, else the only one with that first name. */
function whoIsNamed<C extends Colleague>(text: string, colleagues: readonly C[]): C | 'unclear' | null {
	const read = folded(text);
	const whole = colleagues.filter(({ name }) => begins(read, folded(name)));
	if (whole.length > 0) {
		const longest = Math.max(...whole.map(({ name }) => name.length));
		const same = whole.filter(({ name }) => name.length === longest);
		return same.length === 1 ? same[0] : 'unclear';
	}
	const first = colleagues.filter(({ name }) => begins(read, firstName(name)));
	return first.length === 0 ? null : first.length === 1 ? first[0] : 'unclear';
}

/**
 * Whom a note names: `@` and a whole name, or a first name that only one of them has. An `@` in an address names nobody.
 * @param colleagues those who can be told
 */
export function namedIn<C extends Colleague>(words: string, colleagues: readonly C[]): Named<C> {
	const told = new Set<C>();
	const unclear = new Set<string>();
	const unknown = new Set<string>();
	for (const [, text] of words.matchAll(AT)) {
		const who = whoIsNamed(text, colleagues);
		const said = WORD.exec(text)?.[0] ?? text;
		if (who === null) unknown.add(said);
		else if (who === 'unclear') unclear.add(said);
		else told.add(who);
	}
	return { told: [...told], unclear: [...unclear], unknown: [...unknown] };
}

/** The name that is being typed before the caret, and which colleagues it may become; null if none is. */
export function namingAt<C extends Colleague>(words: string, caret: number, colleagues: readonly C[]): { from: number; choices: C[] } | null {
	const found = /(?<![\p{L}\p{N}._%+-])@([\p{L}\p{M}\p{N}’' -]{0,60})$/u.exec(words.slice(0, caret));
	if (!found) return null;
	const typed = folded(found[1]);
	const choices = colleagues.filter(({ name }) => folded(name).startsWith(typed) && folded(name) !== typed.trimEnd());
	return choices.length === 0 ? null : { from: found.index, choices };
}

/** The words of a note in pieces, so that names in it can be set apart. */
export function piecesOf(words: string, named: readonly string[]): { text: string; name: boolean }[] {
	const people = named.map((name) => ({ id: name, name }));
	const pieces: { text: string; name: boolean }[] = [];
	let from = 0;
	for (const found of words.matchAll(AT)) {
		const who = whoIsNamed(found[1], people);
		if (who === null || who === 'unclear') continue;
		const long = begins(folded(found[1]), folded(who.name)) ? who.name.length : who.name.split(/\s/)[0].length;
		const to = found.index + 1 + long;
		pieces.push({ text: words.slice(from, found.index), name: false }, { text: words.slice(found.index + 1, to), name: true });
		from = to;
	}
	pieces.push({ text: words.slice(from), name: false });
	return pieces.filter(({ text }) => text !== '');
}
