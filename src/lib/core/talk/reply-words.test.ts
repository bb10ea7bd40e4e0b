import { describe, expect, test } from 'vitest';
import { ANSWERS } from './corpus';
import { readReplyAddress, replyAddress } from './reply-address';
import { readReply, REPLY_MOST } from './reply-words';

const lines = (text: string) =>
	text
		.split('\n')
		.map((line) => line.replace(/\s+/g, ' ').trim())
		.filter(Boolean);

test('of the invented answers in three languages, what was written is told from what is quoted and signed', () => {
	let [kept, right, wanted] = [0, 0, 0];
	for (const mail of ANSWERS) {
		const found = lines(readReply(mail.text).words);
		const meant = lines(mail.words);
		[kept, wanted, right] = [kept + found.length, wanted + meant.length, right + found.filter((line) => meant.includes(line)).length];
	}
	console.log(`answers by mail: ${ANSWERS.length} mails, precision ${(right / kept).toFixed(3)}, recall ${(right / wanted).toFixed(3)}`);
	// nothing that somebody wrote is ever folded away
	expect(right / wanted).toBe(1);
	expect(right / kept).toBeGreaterThan(0.97);
});
describe('what is folded away', () => {
	test('is kept, for whoever wants to look', () => {
		for (const { text, words } of ANSWERS) if (lines(text).length > lines(words).length) expect(readReply(text).folded).not.toBe('');
	});
	test('an answer between the lines of a quote stays whole, with what it answers', () => {
		const { words } = readReply('See below.\n\n> When does the lease end?\nIn 2028.\n\n> Who signed it?\nMy brother.\n\n> Thanks');
		expect(lines(words)).toEqual(['See below.', '> When does the lease end?', 'In 2028.', '> Who signed it?', 'My brother.']);
	});
	const told = 'On 4 May 2026 at 09:00, Pennywhistle Row <mail@pennywhistle.example> wrote:';
	test.each([
		['below the quote', `${told}\n> When does the lease end?\n> Thanks\n\nIn 2028.\n\nMara`, 'In 2028.\n\nMara'],
		['below it, signed', `${told}\n> When?\n\nIn 2028.\n-- \nMara`, 'In 2028.'],
		['between its lines', `${told}\n> When?\nIn 2028.\n> Who?\nMy brother.\n> Thanks`, '> When?\nIn 2028.\n> Who?\nMy brother.'],
		['above and between', `See below.\n\n${told}\n> When?\nIn 2028.\n> Thanks`, 'See below.\n\n> When?\nIn 2028.'],
		['above, with a line that a server adds', `In 2028.\n\n${told}\n> When?\n\nScanned for viruses.`, 'In 2028.']
	])('an answer %s is found', (_, text, words) => expect(readReply(text).words).toBe(words));
	test('of ten megabytes of quotes, no more than is read', () => {
		const long = `Yes.\n\nOn 4 May 2026, Pennywhistle Row wrote:\n${'> and so on\n'.repeat(900_000)}`;
		const { words, folded } = readReply(long);
		expect(words).toBe('Yes.');
		expect(folded.length).toBeLessThanOrEqual(REPLY_MOST);
	});
	test('a mail of nothing but a quote says nothing', () =>
		expect(readReply('\n\nOn 4 May 2026, at 09:00, A <a@b.example> wrote:\n> Hello').words).toBe(''));
});

describe('the address that answers go to', () => {
	const [id, signature] = ['0b8f5a0e-93d7-4c8e-8f3a-1d2c3b4a5968', '0123456789abcdef'];
	test('says which message, however it is written, and fits into a mail', () => {
		const address = replyAddress(id, signature, 'papers.example');
		expect(address.split('@')[0].length).toBeLessThanOrEqual(64);
		for (const written of [address, address.toUpperCase()]) expect(readReplyAddress(written, 'papers.example')).toEqual({ messageId: id, signature });
	});
	test.each(['other.example', 'papers.example.other'])('at %s it is none', (domain) =>
		expect(readReplyAddress(replyAddress(id, signature, domain), 'papers.example')).toBeNull()
	);
	test('without a signature, or with more, it is none', () => {
		for (const wrong of ['', '0123', `${signature}0`])
			expect(readReplyAddress(replyAddress(id, wrong, 'papers.example'), 'papers.example')).toBeNull();
	});
});
