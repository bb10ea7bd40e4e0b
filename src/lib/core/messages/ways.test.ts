import { describe, expect, test } from 'vitest';
import { meaningOfAnswer, plainSigns, textMessageParts } from './text-message';
import { announcedBy, CHANNELS, remindedBy, type Reachable } from './ways';

describe('which way a message goes', () => {
	const mara: Omit<Reachable, 'email'> = { phone: '+19025550110', channels: 'email', mailProblem: null, textProblem: null };
	test.each<[string, Partial<Reachable>, string[], string[]]>([
		['by e-mail unless wished otherwise', {}, ['email'], ['email']],
		['by both', { channels: 'both' }, ['email', 'text'], ['email', 'text']],
		['by text alone', { channels: 'text' }, ['text'], ['text']],
		['text wished, no number: e-mail', { channels: 'text', phone: null }, ['email'], ['email']],
		['text wished, STOP said: e-mail', { channels: 'text', textProblem: 'stopped' }, ['email'], ['email']],
		['both wished, mail bounced: text', { channels: 'both', mailProblem: 'bounced' }, ['text'], ['text']],
		['only e-mail wished and it bounced: nothing, though a number is known', { mailProblem: 'bounced' }, [], ['email']],
		['reminders stopped: none by any way, but what is new is told', { channels: 'both', mailProblem: 'opted_out' }, [], ['email', 'text']],
		['no address, so no sign-in', { channels: 'text', mailProblem: 'no_address' }, [], ['email']]
	])('%s', (_, more, reminders, news) => {
		expect(remindedBy({ ...mara, ...more })).toEqual(reminders);
		expect(announcedBy({ ...mara, ...more })).toEqual(news);
	});
	test('nobody gets a text who did not wish for it, or said STOP', () => {
		for (const channels of CHANNELS)
			for (const mailProblem of [null, 'bounced', 'opted_out', 'no_address'] as const)
				for (const textProblem of [null, 'failed', 'stopped'] as const) {
					const person = { ...mara, channels, mailProblem, textProblem };
					if (channels === 'email' || textProblem)
						expect([...remindedBy(person), ...announcedBy(person)], JSON.stringify(person)).not.toContain('text');
				}
	});
});

describe('the length of a text', () => {
	test.each([
		['', 1, 'gsm'],
		['x'.repeat(160), 1, 'gsm'],
		['x'.repeat(161), 2, 'gsm'],
		['x'.repeat(306), 2, 'gsm'],
		['x'.repeat(307), 3, 'gsm'],
		['€'.repeat(80), 1, 'gsm'],
		['€'.repeat(81), 2, 'gsm'],
		['Ünïcode', 1, 'ucs2'],
		['ï'.repeat(70), 1, 'ucs2'],
		['ï'.repeat(71), 2, 'ucs2'],
		['😀'.repeat(35), 1, 'ucs2'],
		['😀'.repeat(36), 2, 'ucs2']
	])('%#: %s', (words, parts, alphabet) => expect(textMessageParts(words)).toMatchObject({ parts, alphabet }));
	test('signs of word processors do not make it longer', () => {
		expect(plainSigns('“Mara’s” page – soon…')).toBe('"Mara\'s" page - soon...');
		expect(textMessageParts(plainSigns('“Mara’s” page – soon…')).alphabet).toBe('gsm');
	});
});

test.each([
	['STOP', 'stop'],
	[' stop. ', 'stop'],
	['"Stop all"', 'stop'],
	['Arrêt', 'stop'],
	['START', 'start'],
	['Please stop by on Monday', null],
	['Don’t stop', null],
	['', null]
])('%s means %s', (words, meaning) => expect(meaningOfAnswer(words)).toBe(meaning));
