import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from 'vitest';
import { composeAnswers, type AnswersToCompose, type SheetQuestion } from './compose-answers';

const question = (number: number, answer: SheetQuestion['answer'], more: Partial<SheetQuestion> = {}): SheetQuestion => ({
	number,
	title: `Question number ${number}?`,
	onlyIf: '',
	help: null,
	depth: 0,
	answer,
	...more
});
const sheet = (parts: AnswersToCompose['parts']): AnswersToCompose => ({
	title: 'Getting to know you',
	lead: 'Gull & String Kites',
	firm: { name: 'Pennywhistle Row', color: '#2f5d50', logo: null },
	paper: 'LETTER',
	parts,
	pageWords: 'Page {page} of {count}'
});

/** The text of each page, as another program reads it. */
async function pagesOf(of: AnswersToCompose): Promise<string[]> {
	const folder = mkdtempSync(join(tmpdir(), 'lantern-answers-'));
	const file = join(folder, 'answers.pdf');
	try {
		writeFileSync(file, (await composeAnswers(of)).pdf);
		execFileSync('qpdf', ['--check', file]);
		return execFileSync('pdftotext', ['-layout', file, '-'], { encoding: 'utf8' }).split('\f').slice(0, -1);
	} finally {
		rmSync(folder, { recursive: true });
	}
}

test('a heading stays with its first question, and a question with its choices, wherever the page ends', async () => {
	const choices = { is: 'choices' as const, choices: ['one', 'two', 'three'], several: true };
	const parts = Array.from({ length: 30 }, (_, i) => ({
		title: `Heading ${i + 1}`,
		questions: [question(2 * i + 1, choices), question(2 * i + 2, { is: 'lines', lines: 3 })]
	}));
	const pages = await pagesOf(sheet(parts));
	expect(pages.length).toBeGreaterThan(4);
	for (const [i] of parts.entries()) {
		const page = pages.find((text) => new RegExp(`Heading ${i + 1}\\s*$`, 'm').test(text))!;
		const at = page.split(`Question number ${2 * i + 1}?`)[1];
		expect(at?.split('\n').slice(0, 8).join(' ')).toMatch(/one\s+two\s+three/);
	}
	expect(pages[1]).toContain(`Page 2 of ${pages.length}`);
});

test('a long answer flows over pages and does not begin at the very end of one; nothing of it is lost', async () => {
	const long = Array.from({ length: 120 }, (_, i) => `Sentence ${i} of a long story about kites and the harbour.`).join('\n');
	for (let before = 10; before < 16; before++) {
		const questions = [
			...Array.from({ length: before }, (_, i) => question(i + 1, { is: 'given', words: 'Yes', note: '' })),
			question(99, { is: 'given', words: long, note: 'Corrected by Odalys.' })
		];
		const pages = await pagesOf(sheet([{ title: '', questions }]));
		const all = pages.join('\n');
		for (const i of [0, 60, 119]) expect(all).toContain(`Sentence ${i} of`);
		expect(pages.find((text) => text.includes('Question number 99?'))).toContain('Sentence 0 of');
	}
});

test('tables keep their heads over pages; what the fonts cannot draw leaves a sign and not a hole', async () => {
	const rows = Array.from({ length: 80 }, (_, i) => [`Name ${i}`, '2026-01-01']);
	const pages = await pagesOf(
		sheet([
			{
				title: '',
				questions: [question(1, { is: 'rows', columns: ['Who', 'Since'], rows }), question(2, { is: 'given', words: 'Kites 🪁', note: '' })]
			}
		])
	);
	expect(pages.length).toBeGreaterThan(1);
	for (const page of pages.slice(0, -1)) expect(page).toMatch(/Who\s+Since/);
	expect(pages.join('')).toContain('Name 79');
	expect(pages.at(-1)).toContain('Kites \ufffd');
});
