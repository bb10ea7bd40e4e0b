import type { RequestList } from './request-form';

/** The request lists that ship with the product. Using one makes a copy; what was sent never changes. */
export const READY_MADE_LISTS: readonly RequestList[] = [
	{
		id: 'taking-on',
		name: 'Taking on a client',
		about: 'Everything needed before the first month: the letter, who you are, the books so far.',
		lines: [
			{
				kind: 'letter',
				title: 'Engagement letter',
				why: 'It says what we do for you, what we need from you, and what it costs. We begin when both sides have signed.',
				required: true,
				dueInBusinessDays: 5
			},
			{
				kind: 'question',
				title: 'What does your business do, in a few words?',
				why: 'So that we put income and costs where they belong.',
				required: true,
				dueInBusinessDays: 5
			},
			{
				kind: 'paper',
				title: 'Registration of the business',
				why: 'A photo of the certificate is enough. We need the registered name and number for every filing.',
				required: true,
				dueInBusinessDays: 8
			},
			{
				kind: 'paper',
				title: 'Bank statements of the last three months',
				why: 'They show us where the books stand. The PDF files of your bank are best.',
				required: true,
				dueInBusinessDays: 8
			},
			{
				kind: 'paper',
				title: 'Card statements of the last three months',
				why: 'So that nothing you paid by card is missing.',
				required: true,
				dueInBusinessDays: 8
			},
			{ kind: 'paper', title: 'Last year’s final accounts', why: 'This year begins where last year ended.', required: true, dueInBusinessDays: 10 },
			{
				kind: 'question',
				title: 'Does anyone work for you, paid or not?',
				why: 'If so, payroll has dates of its own that we must not miss.',
				required: true,
				dueInBusinessDays: 10
			},
			{ kind: 'question', title: 'Your sales tax number, if you have one', why: 'We file under it.', required: false, dueInBusinessDays: 10 }
		]
	},
	{
		id: 'month',
		name: 'Monthly papers',
		about: 'What closes a month: statements, sales, bills not paid yet.',
		lines: [
			{ kind: 'paper', title: 'Bank statement', why: 'All pages, as the bank gives it out.', required: true, dueInBusinessDays: 6 },
			{ kind: 'paper', title: 'Card statement', why: 'We check it against your receipts.', required: true, dueInBusinessDays: 6 },
			{ kind: 'paper', title: 'Sales of the month', why: 'A printout of the till or your list of invoices.', required: true, dueInBusinessDays: 6 },
			{
				kind: 'question',
				title: 'Anything unusual this month?',
				why: 'A new loan, something big bought or sold, money paid in by you.',
				required: false,
				dueInBusinessDays: 6
			}
		]
	},
	{
		id: 'year-end',
		name: 'Year end',
		about: 'What the final accounts need on top of the months.',
		lines: [
			{
				kind: 'paper',
				title: 'List of stock on the last day',
				why: 'What was on the shelf, and what it had cost.',
				required: true,
				dueInBusinessDays: 12
			},
			{
				kind: 'paper',
				title: 'Loan statements at year end',
				why: 'They show what is still owed, and the interest.',
				required: true,
				dueInBusinessDays: 12
			},
			{ kind: 'question', title: 'Who owes you money that will not come?', why: 'It need not be taxed.', required: true, dueInBusinessDays: 12 },
			{
				kind: 'question',
				title: 'How many kilometres did you drive for the business?',
				why: 'Of the whole year, as far as you know.',
				required: true,
				dueInBusinessDays: 12
			},
			{
				kind: 'paper',
				title: 'Bills for things bought to last',
				why: 'Machines, furniture, vehicles, computers.',
				required: false,
				dueInBusinessDays: 15
			}
		]
	}
];
