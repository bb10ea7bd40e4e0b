import { createHash } from 'node:crypto';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { checkTrail, readEntry, trailFile, trailSchema, type KeptEntry } from './trail';

const sha256 = (text: string) => createHash('sha256').update(text).digest('hex');
const DOCUMENT = sha256('the letter');
const chainOf = (texts: readonly string[]): KeptEntry[] => {
	let end = DOCUMENT;
	return texts.map((said) => ({ said, hash: (end = sha256(`${end}\n${said}`)) }));
};
const texts = fc.array(fc.string(), { minLength: 2, maxLength: 8 });

test('a chain holds as it was made, whatever its entries say', () => {
	fc.assert(
		fc.property(texts, (said) => {
			const chain = chainOf(said);
			expect(checkTrail(DOCUMENT, chain, sha256)).toEqual({ ok: true, end: chain.at(-1)!.hash, entries: chain.length });
		})
	);
	expect(checkTrail(DOCUMENT, [], sha256)).toEqual({ ok: true, end: DOCUMENT, entries: 0 });
});

test('what is changed, left out, put in between or moved is found where it is', () => {
	fc.assert(
		fc.property(texts, fc.nat(), fc.string(), (said, where, other) => {
			const chain = chainOf(said);
			const at = where % chain.length;
			const broken = (entries: KeptEntry[]) => checkTrail(DOCUMENT, entries, sha256);
			if (other !== said[at]) expect(broken(chain.with(at, { ...chain[at], said: other }))).toEqual({ ok: false, at: at + 1 });
			if (at < chain.length - 1) {
				expect(broken(chain.toSpliced(at, 1))).toEqual({ ok: false, at: at + 1 });
				expect(broken(chain.toSpliced(at, 2, chain[at + 1], chain[at]))).toEqual({ ok: false, at: at + 1 });
			}
			expect(broken(chain.toSpliced(at, 0, { said: other, hash: sha256(other) }))).toEqual({ ok: false, at: at + 1 });
			expect(checkTrail(sha256('another letter'), chain, sha256)).toEqual({ ok: false, at: 1 });
		})
	);
});

test('an entry is read from its text, and what is handed out is read again', () => {
	const said = '{"at":"2026-05-04T12:00:00.000Z","by":"contact","detail.title":"Terms","ip":"203.0.113.9","what":"letter_signed","who":"Mara"}';
	expect(readEntry(said)).toEqual({
		at: '2026-05-04T12:00:00.000Z',
		by: 'contact',
		who: 'Mara',
		what: 'letter_signed',
		address: '',
		to: '',
		ip: '203.0.113.9',
		device: '',
		details: { title: 'Terms' }
	});
	expect(() => readEntry('nonsense')).toThrow(SyntaxError);
	const trail = trailFile({ title: 'Terms', document: DOCUMENT, sealed: null, entries: chainOf([said]) });
	expect(trailSchema.parse(JSON.parse(JSON.stringify(trail)))).toEqual(trail);
	for (const wrong of [
		{ ...trail, document: 'x' },
		{ ...trail, format: 'letter trail 2' },
		{ ...trail, entries: [{ said: 'x'.repeat(20_001), hash: DOCUMENT }] }
	])
		expect(trailSchema.safeParse(wrong).success).toBe(false);
});
