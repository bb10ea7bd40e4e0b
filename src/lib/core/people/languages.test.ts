import { expect, test } from 'vitest';
import { languageOfBrowser } from './languages';

test.each([
	[null, null],
	['', null],
	['fr', 'fr'],
	['fr-CA,fr;q=0.9,en;q=0.8', 'fr'],
	['de-DE, en;q=0.5, fr;q=0.7', 'fr'],
	['de, *;q=0.5', null],
	['en;q=0.2,fr;q=0', 'en'],
	['FR-ca ; q=0.4, EN-gb;q=0.400', 'fr'],
	['fr;q=abc', 'fr'],
	['x'.repeat(600) + ',fr', null]
])('a browser that sends %j reads %j', (header, language) => expect(languageOfBrowser(header)).toBe(language));
