import type { LetterBlock, LetterDocument, LetterInline } from './letter-document';

/** Text with {field} in it as inline content. */
function inline(text: string): LetterInline[] {
	return text
		.split(/(\{[a-z_]+\})/)
		.filter(Boolean)
		.map((part) => (part.startsWith('{') ? { type: 'mergeField', attrs: { name: part.slice(1, -1) } } : { type: 'text', text: part }));
}
const paragraph = (text: string): LetterBlock => ({ type: 'paragraph', content: inline(text) });
const heading = (text: string): LetterBlock => ({ type: 'heading', attrs: { level: 2 }, content: inline(text) });
const bullets = (...lines: string[]): LetterBlock => ({
	type: 'bulletList',
	content: lines.map((line) => ({ type: 'listItem', content: [{ type: 'paragraph', content: inline(line) }] }))
});

/** The words with which an account is asked for, to be made one's own, and the place for it. */
export const PAYMENT_WORDS: readonly LetterBlock[] = [
	heading('Payment authorisation'),
	paragraph(
		'{firm_name} may collect the fees of this letter from the account below when they fall due, and tells you the amount at least five days before. You can withdraw this authorisation at any time in writing.'
	),
	{ type: 'payment' }
];

/** The engagement letter that ships with the product, to be made one's own. */
export const READY_MADE_LETTER: LetterDocument = {
	type: 'doc',
	content: [
		paragraph('Dear {contact_first_name},'),
		paragraph(
			'Thank you for choosing {firm_name} for the books of {client_name}. This letter says what we will do, what we need from you, and what it costs. When both sides have signed it, we begin on {start_date}.'
		),
		heading('What we do'),
		paragraph(
			'From {start_date} on we look after: {services}. Every month we record what came in and went out, compare it with your bank and card statements, and tell you what we found. If something is unclear we ask you on your page.'
		),
		paragraph(
			'We do not audit your accounts, and we do not look for fraud. If you need either, please tell us and we will find the right people with you.'
		),
		heading('What we need from you'),
		bullets(
			'The papers we ask for, by the dates on your page. What comes late may have to wait until the next month.',
			'True and complete answers. We work with what you give us.',
			'A word in good time when something changes: an address, a bank account, somebody you employ.'
		),
		heading('What it costs'),
		paragraph('The fee is {monthly_fee} a month, due on the last day of the month. Work outside this letter is agreed with you before we begin it.'),
		heading('Your papers and your privacy'),
		paragraph(
			'Your papers stay yours. We keep them for as long as the law asks, show them to nobody without your leave unless the law demands it, and hand them over when you leave us.'
		),
		heading('How this ends'),
		paragraph(
			'Either of us may end this agreement in writing, with one month’s notice to the end of a month. We then finish what has begun and give you everything the next bookkeeper needs.'
		),
		paragraph('With kind regards,'),
		paragraph('{responsible_name}, {firm_name}')
	]
};
