/** Words that say what kind of business it is, not which: two names that differ in nothing else are one. */
const FORM_WORDS = new Set([
	'the',
	'and',
	'ltd',
	'limited',
	'inc',
	'incorporated',
	'llc',
	'llp',
	'co',
	'company',
	'corp',
	'corporation',
	'gmbh',
	'sa',
	'plc'
]);

/** A name without case, accents, signs and words of legal form, for telling whether two names mean the same. */
export function bareName(name: string): string {
	return name
		.normalize('NFKD')
		.replace(/\p{Mark}/gu, '')
		.toLowerCase()
		.replace(/[’'`]/g, '')
		.split(/[^\p{Letter}\p{Number}]+/u)
		.filter((word) => word !== '' && !FORM_WORDS.has(word))
		.join(' ');
}

/** Whether two bare names hold different numbers: Lot 12 and Lot 13, or a name and its second, are two. */
export function differByNumber(one: string, other: string): boolean {
	const numbers = (name: string) => (name.match(/\p{Number}+/gu) ?? []).sort().join(' ');
	return numbers(one) !== numbers(other);
}

/** Why two clients may be one, in words; null if their names are too far apart to say so. */
export function likenessInWords(typed: string, known: string, likeness: number): string | null {
	const [a, b] = [bareName(typed), bareName(known)];
	if (a === '' || b === '') return null;
	if (a === b) return 'has the same name';
	if (differByNumber(a, b)) return null;
	return likeness >= 0.5 ? 'has a similar name' : null;
}
