import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from 'vitest';
import type { LetterBlock } from '$lib/core/letters/letter-document';
import { composeLetter, SIGNATURE_HEIGHT } from './compose-letter';

const HEIGHT = 792;
/** Nothing of a letter reaches into the margin in which the number of the page stands. */
const FOOT = HEIGHT - 64;
const line = (n: number): LetterBlock => ({ type: 'paragraph', content: [{ type: 'text', text: `Line ${n} of the letter.` }] });
const folder = mkdtempSync(join(tmpdir(), 'lantern-compose-'));

interface Word {
	page: number;
	x: number;
	top: number;
	text: string;
}
/** The words of a PDF with their places, as a program reads them that is not ours. */
function wordsOf(pdf: Uint8Array): Word[] {
	const file = join(folder, 'letter.pdf');
	writeFileSync(file, pdf);
	const html = execFileSync('pdftotext', ['-bbox', file, '-'], { encoding: 'utf8' });
	return html
		.split('<page ')
		.slice(1)
		.flatMap((page, at) =>
			[...page.matchAll(/<word xMin="([\d.]+)" yMin="([\d.]+)"[^>]*>([^<]*)</g)].map(([, x, top, text]) => ({
				page: at + 1,
				x: Number(x),
				top: Number(top),
				text
			}))
		);
}

// wherever a page ends: with every line more, the places for the signatures and for the account come to stand elsewhere
test.each(Array.from({ length: 28 }, (_, n) => n))('what is written into a letter of %i lines stands where there is room for it', async (lines) => {
	const composed = await composeLetter({
		title: 'Letter',
		document: { type: 'doc', content: [...Array.from({ length: lines }, (_, n) => line(n)), { type: 'payment' }, line(99)] },
		firm: { name: 'Pennywhistle Row', address: '4 Pennywhistle Row', color: '#2f5d50', logo: null },
		dateLine: '4 May 2026',
		recipient: ['Mara Whitlock'],
		paper: 'LETTER',
		payment: {
			title: 'Account',
			fields: [
				{ kind: 'holder', label: 'Holder' },
				{ kind: 'account', label: 'Number' }
			]
		},
		signers: [
			{ name: 'Mara', of: 'for Gull' },
			{ name: 'Odalys', of: 'for us' }
		],
		pageWords: 'Page {page} of {count}',
		locale: 'en'
	});
	const words = wordsOf(composed.pdf);
	expect(composed.pages).toBe(Math.max(...words.filter(({ text }) => text === 'Page').map(({ page }) => page)));
	const last = words.findLast(({ text }) => text === '99')!;
	expect(composed.signaturePage).toBe(composed.pages);
	if (last.page === composed.signaturePage) expect(composed.signatureTop).toBeGreaterThan(last.top);
	expect(composed.signatureTop + SIGNATURE_HEIGHT).toBeLessThanOrEqual(FOOT);
	expect(composed.payment.map(({ label }) => label)).toEqual(['Holder', 'Number']);
	for (const place of composed.payment) {
		const label = words.find(({ text }) => text === place.label)!;
		expect(place.page).toBe(label.page);
		expect(Math.abs(place.x - label.x)).toBeLessThan(1);
		expect(place.y - label.top).toBeGreaterThan(8);
		expect(place.y - label.top).toBeLessThan(16);
		expect(place.y + place.height).toBeLessThanOrEqual(FOOT);
	}
	expect(new Set(composed.payment.map(({ page }) => page)).size).toBe(1);
});
