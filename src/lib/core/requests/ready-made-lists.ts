import { READY_MADE_FACTS } from '../facts/fact-definition';
import { READY_MADE_LETTER } from '../letters/ready-made-letter';
import { afterBusinessDays, type DueRule } from '../schedules/due-rule';
import type { Condition } from './conditions';
import { answerOfFact, type AnswerSpec } from '../items/questions';
import { type SlotType } from '../items/slots';
import type { StatementsOf } from '../statements/accounts';
import type { ListLine, ReadyMadeList } from './request-list';

/** What is told of a line beyond its words. */
interface More {
	due?: number | DueRule;
	optional?: true;
	when?: Condition;
	acceptsItself?: true;
}

const answerOfReadyMade = (name: string | undefined) => {
	const fact = READY_MADE_FACTS.find((one) => one.name === name);
	return fact ? answerOfFact(fact) : null;
};
const YES = (fact: string): Condition => ({ kind: 'fact', fact, is: 'equals', value: 'yes' });
const IS = (fact: string, value: string): Condition => ({ kind: 'fact', fact, is: 'equals', value });
const UNKNOWN = (fact: string): Condition => ({ kind: 'fact', fact, is: 'unknown', value: '' });
const EITHER = (...of: Condition[]): Condition => ({ kind: 'any', of });

function common(heading: string, title: string, why: string, { due = 8, optional, when, acceptsItself }: More) {
	return {
		key: title
			.toLowerCase()
			.replace(/[^a-z0-9]+/g, '-')
			.slice(0, 40),
		heading,
		title,
		why,
		required: !optional,
		acceptsItself: acceptsItself ?? false,
		attachments: [],
		due: typeof due === 'number' ? afterBusinessDays(due) : due,
		condition: when ?? null
	};
}

/** Lines of one heading, written one below the other. */
function under(heading: string) {
	return {
		paper: (title: string, why: string, more: More & { slots?: [string, SlotType][]; statementsOf?: StatementsOf } = {}): ListLine => ({
			kind: 'paper',
			...common(heading, title, why, more),
			spec: { slots: (more.slots ?? []).map(([name, accepts]) => ({ name, accepts })), statementsOf: more.statementsOf ?? 'none' }
		}),
		ask: (title: string, why: string, more: More & { answer?: AnswerSpec; fact?: string } = {}): ListLine => ({
			kind: 'question',
			...common(heading, title, why, more),
			spec: { answer: more.answer ?? answerOfReadyMade(more.fact) ?? { is: 'words' }, fact: more.fact ?? null }
		}),
		letter: (title: string, why: string, more: More = {}): ListLine => ({
			kind: 'letter',
			...common(heading, title, why, more),
			spec: {},
			document: READY_MADE_LETTER
		}),
		access: (title: string, why: string, system: string, more: More = {}): ListLine => ({
			kind: 'access',
			...common(heading, title, why, more),
			spec: { system, invite: '', secret: false }
		}),
		todo: (title: string, why: string, more: More = {}): ListLine => ({ kind: 'do', ...common(heading, title, why, more), spec: {} })
	};
}

const AFTER_PERIOD = (days: number): DueRule => ({ from: 'period_end', offset: days, unit: 'business_days', roll: 'following' });
const first = under('First of all');
const who = under('Who you are');
const books = under('The books so far');
const bank = under('Bank and cards');
const people = under('People you pay');
const money = under('Money in and out');
const rest = under('What else there was');
const closing = under('The last day of the year');
const filing = under('For the return');
const year = under('Your year');

/** The request lists that ship with the product. Using one makes a copy; what was sent never changes. */
export const READY_MADE_LISTS: readonly ReadyMadeList[] = [
	{
		id: 'taking-on-company',
		name: 'Taking on a company',
		about: 'Everything before the first month: the letter, who stands behind the company, its books, its accounts.',
		title: 'Getting started',
		services: ['Monthly books'],
		lines: [
			first.letter(
				'Engagement letter',
				'It says what we do for you, what we need from you, and what it costs. We begin when both sides have signed.',
				{ due: 5 }
			),
			first.ask('What does the company do, in a few words?', 'So that we put income and costs where they belong.', { due: 5 }),
			who.ask('Which legal form does it have?', 'It decides which accounts and returns are due, and when.', {
				due: 5,
				fact: 'legal_form',
				when: UNKNOWN('legal_form'),
				acceptsItself: true
			}),
			who.paper('Certificate of incorporation', 'A photo is enough. We need the registered name and number for every filing.'),
			who.paper('Register of directors and shareholders', 'Banks and authorities ask us who stands behind the company.', {
				when: IS('legal_form', 'company')
			}),
			who.ask('Tax number of the company', 'Every return is filed under it.', { fact: 'tax_number', when: UNKNOWN('tax_number') }),
			who.paper('A piece of identification of each owner', 'The law asks us to know whom we work for. Passport or driving licence, both sides.', {
				slots: [['Passport or licence', 'any']]
			}),
			books.ask('Since when should we keep the books?', 'Everything from that day on is ours to sort out.', {
				fact: 'books_from',
				when: UNKNOWN('books_from')
			}),
			books.paper('Last year’s final accounts', 'This year begins where last year ended.', { due: 10 }),
			books.paper('Trial balance on the day we begin', 'The balance of every account; your last bookkeeper or your software prints it.', {
				due: 10,
				optional: true
			}),
			books.access(
				'A seat in your bookkeeping software',
				'So that we work in the same books as you, and nothing is typed twice.',
				'your bookkeeping software',
				{
					when: { kind: 'fact', fact: 'software', is: 'known', value: '' }
				}
			),
			bank.paper('Bank statements of the last three months', 'They show us where the books stand. The PDF files of your bank are best.'),
			bank.paper('Card statements of the last three months', 'So that nothing paid by card is missing.', { optional: true }),
			bank.paper('Loan and lease agreements', 'What is paid each month is part interest, part debt; the agreement says how much.', {
				due: 12,
				optional: true
			}),
			people.ask('Does the company pay wages?', 'If so, payroll has dates of its own that we must not miss.', {
				fact: 'payroll',
				when: UNKNOWN('payroll'),
				acceptsItself: true
			}),
			people.paper('Last payroll run and the year to date', 'So that the next one begins with the right totals.', { when: YES('payroll') }),
			filing.ask('Is the company registered for sales tax?', 'We file it for you from the first period on.', {
				fact: 'sales_tax',
				when: UNKNOWN('sales_tax'),
				acceptsItself: true
			}),
			filing.paper('The last sales tax return', 'The next one must follow on from it.', { when: YES('sales_tax') })
		]
	},
	{
		id: 'taking-on-sole-trader',
		name: 'Taking on a sole trader',
		about: 'The same for one person: fewer papers, and the private side.',
		title: 'Getting started',
		services: ['Monthly books'],
		lines: [
			first.letter(
				'Engagement letter',
				'It says what we do for you, what we need from you, and what it costs. We begin when both of us have signed.',
				{ due: 5 }
			),
			first.ask('What do you do, in a few words?', 'So that we put income and costs where they belong.', { due: 5 }),
			who.paper('A piece of identification', 'The law asks us to know whom we work for. Passport or driving licence, both sides.'),
			who.ask('Your tax number', 'Your returns are filed under it.', { fact: 'tax_number', when: UNKNOWN('tax_number') }),
			who.paper('Registration of the business', 'If you trade under a name that is not your own.', { optional: true }),
			books.ask('How do you count: when money moves, or when a bill is written?', 'Both are right; changing in the middle of a year is not.', {
				fact: 'method',
				when: UNKNOWN('method')
			}),
			books.paper('Last year’s tax return', 'This year begins where last year ended.', { due: 10 }),
			books.ask('Where do your receipts live?', 'A shoebox is fine. We only want to know before we ask for them.', { optional: true }),
			bank.ask('Does private money go through the business account?', 'Then we ask about single payments now and then, instead of guessing.', {
				answer: { is: 'yes_no' }
			}),
			bank.paper('Bank statements of the last three months', 'The account your business money goes through. The PDF files of your bank are best.'),
			bank.paper('Card statements of the last three months', 'Only if you pay for the business by card.', { optional: true }),
			people.ask('Does anyone work for you, paid or not?', 'If so, payroll has dates of its own that we must not miss.', {
				fact: 'payroll',
				when: UNKNOWN('payroll'),
				acceptsItself: true
			}),
			filing.ask('Do you use a part of your home, or your car, for work?', 'A share of what they cost may lower your tax.', {
				answer: { is: 'several_of', choices: ['a room at home', 'my car', 'my phone', 'none of these'] }
			})
		]
	},
	{
		id: 'month-close',
		name: 'Monthly close',
		about: 'What closes a month: statements, sales, bills not paid yet.',
		title: 'Papers of the month',
		services: ['Monthly books'],
		lines: [
			bank.paper('Bank statement', 'All pages, as the bank gives it out.', { due: AFTER_PERIOD(6), statementsOf: 'bank' }),
			bank.paper('Card statement', 'We check it against your receipts.', { due: AFTER_PERIOD(6), optional: true, statementsOf: 'card' }),
			bank.paper('Statement of your payment service', 'What came in by card or online, and what it kept of it.', {
				due: AFTER_PERIOD(6),
				optional: true
			}),
			money.paper('Sales of the month', 'A printout of the till, or your list of invoices.', { due: AFTER_PERIOD(6) }),
			money.paper('Bills you have not paid yet', 'They belong to the month they are from, not to the day you pay.', {
				due: AFTER_PERIOD(6),
				optional: true,
				when: EITHER(IS('method', 'accrual'), UNKNOWN('method'))
			}),
			money.paper('Counting of the till on the last day', 'A photo of the sheet is enough.', { due: AFTER_PERIOD(4), optional: true }),
			people.paper('Hours of everybody you pay', 'Name, hours, days off. We need them before pay day.', {
				due: AFTER_PERIOD(2),
				when: YES('payroll')
			}),
			rest.ask('Anything unusual this month?', 'A new loan, something big bought or sold, money paid in by you.', {
				due: AFTER_PERIOD(6),
				optional: true
			})
		]
	},
	{
		id: 'quarter-sales-tax',
		name: 'Quarter and sales tax',
		about: 'What a return on sales tax needs on top of the months.',
		title: 'Your sales tax return',
		services: ['Sales tax'],
		lines: [
			filing.ask('Sales you made abroad or to another province', 'They may be taxed at another rate, or not at all.', {
				due: AFTER_PERIOD(8),
				answer: { is: 'money', currency: 'CAD' }
			}),
			filing.paper('Sales by rate of tax', 'The report of your till or software, for the whole quarter.', { due: AFTER_PERIOD(8) }),
			filing.paper('Bills for goods from abroad, with the customs papers', 'Tax paid at the border can be claimed back.', {
				due: AFTER_PERIOD(8),
				optional: true
			}),
			money.ask('Bills that will never be paid to you', 'Tax on them can be taken back.', { due: AFTER_PERIOD(8), optional: true }),
			money.ask('Did you take anything out of stock for yourself?', 'It counts as sold. A short list with what it cost.', {
				due: AFTER_PERIOD(8),
				optional: true
			}),
			rest.todo('Keep the amount ready on the account', 'We tell you the amount a week before it is drawn.', {
				due: AFTER_PERIOD(15),
				optional: true
			})
		]
	},
	{
		id: 'year-end-close',
		name: 'Year end',
		about: 'What the final accounts need on top of the months.',
		title: 'Your year end',
		services: ['Year end'],
		lines: [
			closing.paper('List of stock on the last day', 'What was on the shelf, and what it had cost. Counted, not guessed.', { due: 12 }),
			closing.paper('Bank statements that show the last day', 'Every account, also those that hardly move.', { due: 10 }),
			closing.paper('Loan statements at year end', 'They show what is still owed, and the interest.', { due: 12, optional: true }),
			closing.ask('Cash in the till on the last day', 'As counted in the evening.', {
				due: 10,
				answer: { is: 'money', currency: 'CAD' },
				optional: true
			}),
			money.ask('Who owes you money that will not come?', 'It need not be taxed. Name and amount.', { due: 12, optional: true }),
			money.ask('Work begun and not billed yet', 'What it will bring, and how far it is.', {
				due: 12,
				optional: true,
				when: EITHER(IS('method', 'accrual'), UNKNOWN('method'))
			}),
			money.paper('Bills for things bought to last', 'Machines, furniture, vehicles, computers.', { due: 15, optional: true }),
			year.ask('How many kilometres did you drive for the business?', 'Of the whole year, as far as you know.', {
				due: 12,
				answer: { is: 'number', unit: 'km' },
				optional: true
			}),
			year.ask('What changed this year?', 'New owners, a new address, a second place, anything sold for good.', { due: 12 }),
			people.paper('Wage summaries of the year', 'One sheet for each person you paid.', { due: 12, when: YES('payroll') }),
			filing.paper('Minutes that decide about the profit', 'What is paid out and what stays.', {
				due: 20,
				optional: true,
				when: IS('legal_form', 'company')
			})
		]
	},
	{
		id: 'payroll-start',
		name: 'Starting payroll',
		about: 'What is needed before the first pay day.',
		title: 'Before the first pay day',
		services: ['Payroll'],
		lines: [
			first.ask('How many people will you pay?', 'Owners who pay themselves wages count too.', { due: 3, fact: 'employees', acceptsItself: true }),
			first.ask('When is pay day?', 'Every second Friday, the last of the month: as you like it, as long as it stays so.', { due: 3 }),
			people.paper('Form with personal details of each person', 'Name, address, date of birth, social insurance number, bank account.', {
				slots: [['Personal details', 'any']]
			}),
			people.paper('Work contracts', 'They say what is paid, for how many hours, and what else was agreed.'),
			people.paper('Tax forms each person has signed', 'They decide how much is held back from the wage.'),
			people.ask('Who gets something on top of the wage?', 'A car, a phone, meals, a bonus: some of it is taxed.', { optional: true }),
			filing.ask('Your payroll account number', 'If you have none yet, we open it for you.', { optional: true }),
			bank.ask('From which account are wages paid?', 'Bank and last four digits are enough.')
		]
	},
	{
		id: 'clean-up',
		name: 'Clean-up of past months',
		about: 'Books that fell behind: everything of the time to be made up.',
		title: 'Catching up on your books',
		services: ['Clean-up of past months'],
		lines: [
			first.ask('From when on are the books not done?', 'We begin there. If you are not sure, the last return tells.', {
				due: 4,
				answer: { is: 'date' }
			}),
			books.paper('The last books that were right', 'A backup of the software, or the last printed accounts.', { due: 10 }),
			books.paper('Letters of the tax office that you have not answered', 'Also the unopened ones. Nobody here will sigh.', {
				due: 5,
				optional: true
			}),
			bank.paper('Bank statements of the whole time', 'Every month, every account. Gaps are what takes longest.', { due: 12 }),
			bank.paper('Card statements of the whole time', 'Every month, every card.', { due: 12, optional: true }),
			money.paper('Invoices you wrote', 'As files, or the whole folder as photographs.', { due: 15 }),
			money.paper('Bills and receipts', 'As they are. Sorting is our job.', { due: 15 }),
			money.ask('Money you lent the business, or took out', 'Roughly when and how much; we look up the rest.', { due: 12, optional: true }),
			people.paper('What was paid to people', 'Wages, helpers, subcontractors: names and amounts.', {
				due: 12,
				when: EITHER(YES('payroll'), UNKNOWN('payroll'))
			})
		]
	},
	{
		id: 'personal-tax',
		name: 'Personal tax',
		about: 'A person’s own return: income, family, what may be deducted.',
		title: 'Your tax return',
		services: ['Personal tax'],
		lines: [
			year.ask(
				'What changed in your life this year?',
				'Married, parted, a child, moved context, a new job, someone died: each may change your tax.',
				{
					answer: {
						is: 'several_of',
						choices: ['married or moved in together', 'parted', 'a child', 'moved context', 'a new job', 'a death in the family', 'nothing of this']
					}
				}
			),
			year.paper('Last year’s return and its assessment', 'It shows what is carried over to this year.', { due: 10 }),
			money.paper('Slips for wages, pensions and benefits', 'Every one you got, also of a job that lasted a week.'),
			money.paper('Slips for interest, dividends and funds', 'From your bank and your broker.', { optional: true }),
			money.paper('What you sold: context, shares, cottage', 'What you paid for it then, what you got for it now, and what selling cost.', {
				optional: true
			}),
			money.paper('Rent you earned, and what the place cost', 'Interest, taxes, repairs, insurance.', { optional: true }),
			filing.paper('Receipts for gifts to charities', 'The official ones with a number.', { optional: true }),
			filing.paper('Medical costs of the family', 'The pharmacy prints the whole year on one sheet.', { optional: true }),
			filing.paper('Costs of child care', 'With the name and number of who looked after them.', { optional: true }),
			filing.ask('Did you work from home?', 'How many weeks, and in which room.', { optional: true })
		]
	}
];
