import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { parse, TYPE, type MessageFormatElement } from '@formatjs/icu-messageformat-parser';
import { parse as parseSvelte } from 'svelte/compiler';
import { describe, expect, test } from 'vitest';
import { READY_MADE_FACTS } from '$lib/core/facts/fact-definition';
import { reasonSchema } from '$lib/core/requests/request-form';
import en from './en.json';
import fr from './fr.json';
import { inWords, issueInWords, saying } from './sayings';
import { ageWords, dateWords, dayOf, sizeWords, timeWords } from './dates';
import { say, type WordKey } from './words';

function names(elements: MessageFormatElement[], found: Record<string, string | number> = {}): Record<string, string | number> {
	for (const element of elements) {
		if (element.type === TYPE.argument) found[element.value] = 'x';
		if (element.type === TYPE.number) found[element.value] = 2;
		if (element.type === TYPE.plural || element.type === TYPE.select) {
			found[element.value] = element.type === TYPE.plural ? 2 : 'x';
			for (const option of Object.values(element.options)) names(option.value, found);
		}
	}
	return found;
}

describe('the message catalogue', () => {
	test.each(Object.keys(en) as WordKey[])('%s can be said', (key) => {
		const text = say('en', key, names(parse(en[key], { ignoreTag: true })));
		expect(text.trim()).not.toBe('');
		expect(text).not.toMatch(/\{[a-z]+[,}]/i);
	});
	test('French says all that English says, with the same values', () => {
		expect(Object.keys(fr)).toEqual(Object.keys(en));
		for (const key of Object.keys(en) as WordKey[]) {
			const values = names(parse(en[key], { ignoreTag: true }));
			expect(Object.keys(names(parse(fr[key], { ignoreTag: true }))).sort(), key).toEqual(Object.keys(values).sort());
			expect(say('fr', key, values), key).not.toMatch(/^\s*$|\{[a-z]+[,}]/i);
		}
		expect(say('fr', 'portal.left', { count: 0 })).not.toBe(say('en', 'portal.left', { count: 0 }));
		expect(dateWords('fr', '2026-05-04', 'withYear')).toBe('4 mai 2026');
	});
	test('plurals follow the number', () => {
		expect(say('en', 'portal.left', { count: 0 })).toBe('Nothing is left to do.');
		expect(say('en', 'portal.left', { count: 1 })).toBe('One thing left.');
		expect(say('en', 'portal.left', { count: 1200 })).toBe('1,200 things left.');
		expect(say('de', 'portal.left', { count: 1200 })).toBe('1.200 things left.');
	});
	test('values are text, never markup or patterns', () => {
		expect(say('en', 'join.title', { name: '<b>{x}', named: 'yes' })).toBe('Welcome, <b>{x}.');
	});
	test('a missing value is a bug and loud', () => {
		expect(() => say('en', 'join.title')).toThrow();
	});
});

test('every fact and each of its choices can be said to a client', () => {
	for (const { name, is } of READY_MADE_FACTS) {
		expect(en, name).toHaveProperty([`fact.${name}`]);
		for (const choice of is.kind === 'choice' ? is.choices : []) expect(en, choice.key).toHaveProperty([`fact.choice.${choice.key}`]);
	}
});

/** Every file that pages of the portal are made of: theirs, and whatever of the interface these take in. */
function portalFiles(): string[] {
	const found = new Set<string>();
	const next = [
		...(readdirSync('src/routes/portal', { recursive: true }) as string[])
			.filter((file) => file.endsWith('.svelte') || /\+(page|layout)\.ts$/.test(file))
			.map((file) => join('src/routes/portal', file)),
		'src/routes/+error.svelte'
	];
	for (let file = next.pop(); file; file = next.pop()) {
		if (found.has(file) || !existsSync(file)) continue;
		found.add(file);
		for (const [, from] of readFileSync(file, 'utf8').matchAll(/(?:from |import\()'((?:\$lib\/ui|\.)[^']*)'/g)) {
			const path = from.startsWith('$lib') ? from.replace('$lib', 'src/lib') : join(dirname(file), from);
			next.push(/\.(svelte|ts)$/.test(path) ? path : `${path}.ts`);
		}
	}
	return [...found];
}

/** Words that stand in a page as they are: as its text, or as what is read aloud of it. */
function literals(node: unknown, words: string[] = []): string[] {
	if (Array.isArray(node)) for (const one of node) literals(one, words);
	else if (node && typeof node === 'object') {
		const { type, name, value, data } = node as { type?: string; name?: string; value?: unknown; data?: string };
		if (type === 'Text' && /\p{L}{2,}/u.test(data!)) words.push(data!.trim());
		if (type === 'Attribute') {
			if (['aria-label', 'placeholder', 'title', 'alt'].includes(name!)) literals(value, words);
		} else for (const [key, child] of Object.entries(node)) if (!['instance', 'module', 'css', 'metadata'].includes(key)) literals(child, words);
	}
	return words;
}

describe('a client reads nothing that is only English', () => {
	const files = portalFiles();
	test('pages of the portal are found, with what they take in', () => {
		expect(files).toContain('src/lib/ui/forms/enhanced-form.ts');
		// also what is read only when it is needed
		for (const file of ['items/transactions/Answer.svelte', 'letters/SignLetter.svelte']) expect(files).toContain(`src/lib/ui/${file}`);
		expect(files.length).toBeGreaterThan(30);
	});
	test.each(files.filter((file) => file.endsWith('.svelte')))('%s', (file) => {
		expect(literals(parseSvelte(readFileSync(file, 'utf8'), { modern: true }).fragment)).toEqual([]);
	});
	test.each(files)('%s has no sentence in its script', (file) => {
		expect([...readFileSync(file, 'utf8').matchAll(/['`]([A-Z][a-z’]+ [a-z][^'`\n]{5,})['`]/g)].map(([, words]) => words)).toEqual([]);
	});
	test('the French has a space that does not break before : ; ! and ?', () => {
		// a text message is dearer with a sign that is not in its alphabet, and such a space is none
		const before = Object.entries(fr).filter(
			([key, words]) => !key.startsWith('text.') && /(?:[^\s\u00a0\u202f]|(?<![\u00a0\u202f])\s(?<![\u00a0\u202f]))[:;?!](?=[\s»”]|$)/u.test(words)
		);
		expect(before.map(([key]) => key)).toEqual([]);
	});
});

describe('what went wrong', () => {
	const sources = (readdirSync('src', { recursive: true }) as string[])
		.filter((file) => /\.(ts|svelte)$/.test(file) && !file.endsWith('.test.ts'))
		.map((file) => readFileSync(join('src', file), 'utf8'))
		.join('\n');
	test('every key named in the sources is in the catalogue, and none is there for nothing', () => {
		const named = new Set([...sources.matchAll(/'(wrong(?:\.\w+)+)'/g)].map((match) => match[1]));
		expect([...named].sort()).toEqual(
			Object.keys(en)
				.filter((key) => key.startsWith('wrong.'))
				.sort()
		);
	});
	test('a schema’s message is said with its limit; a sentence stays as it is', () => {
		const tooLong = reasonSchema.safeParse({ reason: 'x'.repeat(1001) }).error!.issues[0];
		expect(issueInWords('en', tooLong)).toBe('Please keep the reason to 1,000 characters.');
		expect(issueInWords('de', tooLong)).toBe('Please keep the reason to 1.000 characters.');
		expect(issueInWords('en', { message: 'Choose a due date.' })).toBe('Choose a due date.');
	});
	test('a saying is put into words with its values', () => {
		expect(inWords('en', saying('wrong.tries', { minutes: 1 }))).toBe('Too many tries. Please wait one minute and try again.');
		expect(inWords('en', 'As it is.')).toBe('As it is.');
	});
});

describe('dates and numbers', () => {
	test('dates without time do not move with the zone', () => {
		expect(dateWords('en', '2026-05-04')).toBe('Mon 4 May');
		expect(dateWords('en', '2026-05-04', 'withYear')).toBe('4 May 2026');
		expect(dateWords('de', '2026-05-04', 'long')).toContain('Montag');
	});
	test('times are told in the firm’s zone on both sides of a clock change', () => {
		expect(timeWords('en', '2026-03-06T13:00:00Z', 'America/Halifax')).toBe('Fri 6 Mar 09:00');
		expect(timeWords('en', '2026-03-09T12:00:00Z', 'America/Halifax')).toBe('Mon 9 Mar 09:00');
		expect(timeWords('en', '2026-05-04T12:00:00Z', 'Pacific/Auckland')).toBe('Tue 5 May 00:00');
		expect(timeWords('en', '2026-05-04T12:00:00Z', 'America/Halifax', 'stamp')).toBe('4 May 2026 09:00 GMT-3');
		expect(dayOf('2026-05-04T02:00:00Z', 'America/Halifax')).toBe('2026-05-03');
	});
	test('ages and sizes', () => {
		expect(ageWords('2026-05-04T11:00:00Z', '2026-05-04T11:35:00Z')).toBe('35 min');
		expect(ageWords('2026-05-03T10:00:00Z', '2026-05-04T11:35:00Z')).toBe('1 day');
		expect(sizeWords('en', 999)).toBe('999 B');
		expect(sizeWords('en', 3_400_000)).toBe('3.4 MB');
	});
});
