import { READY_MADE_LETTER } from '../src/lib/core/letters/ready-made-letter';
import { kindOf } from '../src/lib/core/items/item-kinds';
import { requestListSchema, type RequestListForm } from '../src/lib/core/requests/request-list';

type Line = [kind: 'paper' | 'question' | 'letter', title: string, why: string, dueInBusinessDays: number, optional?: true];

function list(name: string, about: string, title: string, services: string[], lines: Line[]): RequestListForm {
	return requestListSchema.parse({
		name,
		about,
		title,
		services,
		shared: 'all',
		lines: lines.map(([kind, lineTitle, why, offset, optional], i) => ({
			key: `line-${i + 1}`,
			kind,
			title: lineTitle,
			why,
			required: !optional,
			due: { from: 'asked', offset, unit: 'business_days', roll: 'none' },
			spec: kindOf(kind).empty(''),
			...(kind === 'letter' ? { document: READY_MADE_LETTER } : {})
		}))
	});
}

/** The lists of Pennywhistle Row: what they ask with, since long before the ready-made ones. */
export const DEMO_LISTS = {
	'taking-on': list(
		'Taking on a client',
		'Everything needed before the first month: the letter, who you are, the books so far.',
		'Getting started',
		[],
		[
			[
				'letter',
				'Engagement letter',
				'It says what we do for you, what we need from you, and what it costs. We begin when both sides have signed.',
				5
			],
			['question', 'What does your business do, in a few words?', 'So that we put income and costs where they belong.', 5],
			['paper', 'Registration of the business', 'A photo of the certificate is enough. We need the registered name and number for every filing.', 8],
			['paper', 'Bank statements of the last three months', 'They show us where the books stand. The PDF files of your bank are best.', 8],
			['paper', 'Card statements of the last three months', 'So that nothing you paid by card is missing.', 8],
			['paper', 'Last year’s final accounts', 'This year begins where last year ended.', 10],
			['question', 'Does anyone work for you, paid or not?', 'If so, payroll has dates of its own that we must not miss.', 10],
			['question', 'Your sales tax number, if you have one', 'We file under it.', 10, true]
		]
	),
	month: list(
		'Monthly papers',
		'What closes a month: statements, sales, bills not paid yet.',
		'Monthly papers',
		['Monthly books'],
		[
			['paper', 'Bank statement', 'All pages, as the bank gives it out.', 6],
			['paper', 'Card statement', 'We check it against your receipts.', 6],
			['paper', 'Sales of the month', 'A printout of the till or your list of invoices.', 6],
			['question', 'Anything unusual this month?', 'A new loan, something big bought or sold, money paid in by you.', 6, true]
		]
	),
	'year-end': list(
		'Year-end papers',
		'What the final accounts need on top of the months.',
		'Year end',
		['Year end'],
		[
			['paper', 'List of stock on the last day', 'What was on the shelf, and what it had cost.', 12],
			['paper', 'Loan statements at year end', 'They show what is still owed, and the interest.', 12],
			['question', 'Who owes you money that will not come?', 'It need not be taxed.', 12],
			['question', 'How many kilometres did you drive for the business?', 'Of the whole year, as far as you know.', 12],
			['paper', 'Bills for things bought to last', 'Machines, furniture, vehicles, computers.', 15, true]
		]
	)
} as const;
