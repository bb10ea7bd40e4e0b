import { expect, test } from 'vitest';
import { linkedText } from './linked-text';

test('links in words: only the web, never a name and password, the full stop stays outside', () => {
	expect(linkedText('See https://www.bank.example/help. Or javascript:alert(1), https://me:pw@bank.example/ and ftp://x.example')).toEqual([
		{ words: 'See ' },
		{ link: 'https://www.bank.example/help', shown: 'bank.example/help' },
		{ words: '. Or javascript:alert(1), https://me:pw@bank.example/ and ftp://x.example' }
	]);
	for (const hidden of ['https://me@bank.example/', 'https://:pw@bank.example/', 'https://localhost/'])
		expect(linkedText(hidden)).toEqual([{ words: hidden }]);
	expect(linkedText('')).toEqual([]);
});
