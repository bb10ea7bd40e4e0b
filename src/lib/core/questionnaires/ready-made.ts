import { newQuestion as q, type AnswerSpec, type Question } from '../items/questions';
import type { Questionnaire } from './questionnaire';

type More = Partial<Omit<Question, 'key' | 'title' | 'answer'>>;
const words: AnswerSpec = { is: 'words' };
const line: AnswerSpec = { is: 'line' };
const yesNo: AnswerSpec = { is: 'yes_no' };
const date: AnswerSpec = { is: 'date' };
const number = (unit = ''): AnswerSpec => ({ is: 'number', unit });
const oneOf = (...choices: string[]): AnswerSpec => ({ is: 'one_of', choices });
const oneOrOther = (...choices: string[]): AnswerSpec => ({ is: 'one_of', choices, other: true });
const severalOf = (...choices: string[]): AnswerSpec => ({ is: 'several_of', choices, other: true });
const table = (columns: Extract<AnswerSpec, { is: 'table' }>['columns']): AnswerSpec => ({ is: 'table', columns });
const column = (key: string, label: string, kind: 'words' | 'date' | 'email' = 'words') => ({
	key,
	label,
	is: kind === 'words' ? { kind, max: 200 } : { kind }
});
const percent = (key: string, label: string) => ({ key, label, is: { kind: 'number' as const, unit: '%', whole: false } });
const choiceColumn = (key: string, label: string, ...choices: string[]) => ({
	key,
	label,
	is: { kind: 'choice' as const, choices: choices.map((one) => ({ key: one.toLowerCase().replace(/[^a-z0-9]+/g, '_'), words: one })) }
});
const optional = { required: false } as const;
const ifYes = (under: string): More => ({ under, when: { is: 'equals', value: 'yes' } });
const ifNo = (under: string): More => ({ under, when: { is: 'equals', value: 'no' } });
const ifIs = (under: string, value: string): More => ({ under, when: { is: 'equals', value } });
const ifHas = (under: string, value: string): More => ({ under, when: { is: 'contains', value } });
const notPast = { check: { day: 'not_past' } } as const;
const notFuture = { check: { day: 'not_future' } } as const;

/** Tax, money and papers, alike for every business. */
const booksOf = (money: AnswerSpec): Question[] => [
	q('kept', 'Who keeps your books today?', oneOf('I do', 'somebody in the business', 'another bookkeeper', 'nobody yet'), { part: 'Your books' }),
	q('kept_who', 'Who is it, and may we speak with them?', words, ifIs('kept', 'another bookkeeper')),
	q(
		'software',
		'Which bookkeeping software do you use?',
		{ is: 'line' },
		{ fact: 'software', required: false, help: 'A spreadsheet counts. Leave it empty if there is none.' }
	),
	q('up_to', 'Up to which day are your books complete?', date, { ...optional, ...notFuture }),
	q('year_end', 'When does your fiscal year end?', { is: 'day_of_year' }, { fact: 'year_end', help: 'For most it is 31 December.' }),
	q('method', 'Are your books on an accrual or a cash basis?', oneOf('accrual', 'cash', 'I do not know'), {
		help: 'Accrual: a sale counts on the day of the invoice. Cash: it counts on the day the money comes.'
	}),
	q('accounts', 'How many bank and card accounts does the business use?', number(), { fact: 'bank_accounts', check: { least: 0, most: 200 } }),
	q('accounts_private', 'Is any of them also used privately?', yesNo),
	q('money_in', 'How do customers pay you?', severalOf('cash', 'card at the till', 'bank transfer', 'cheque', 'an online shop or platform'), {
		part: 'Money in and out'
	}),
	q('platforms', 'Which shops or platforms?', words, ifHas('money_in', 'an online shop or platform')),
	q('sales', 'Sales of the last twelve months, about', money, { ...optional, help: 'A rough figure will do.' }),
	q('invoices', 'How many invoices do you send in a usual month?', number(), { ...optional, check: { least: 0 } }),
	q('bills', 'How many bills and receipts come in, in a usual month?', number(), { ...optional, check: { least: 0 } }),
	q('loans', 'Does the business have loans or leases?', yesNo),
	q('loans_which', 'Which ones?', table([column('with', 'With whom'), column('for', 'For what'), column('until', 'Until', 'date')]), ifYes('loans')),
	q('stock', 'Do you keep stock?', yesNo),
	q('stock_counted', 'When was it last counted?', date, { ...ifYes('stock'), ...optional, ...notFuture }),
	q('sales_tax', 'Are you registered for sales tax?', yesNo, { part: 'Tax and people', fact: 'sales_tax' }),
	q('sales_tax_number', 'Your sales tax number', { is: 'tax_number', check: '' }, ifYes('sales_tax')),
	q('sales_tax_often', 'How often do you file it?', oneOf('monthly', 'quarterly', 'yearly'), ifYes('sales_tax')),
	q('behind', 'Is any return or payment overdue?', yesNo, { help: 'We ask so that we can put it right, not to judge.' }),
	q('behind_which', 'Which one, and since when?', words, ifYes('behind')),
	q('staff', 'Does anyone work for you?', yesNo, { fact: 'payroll', help: 'Also family, and also part of the time.' }),
	q('staff_many', 'How many people?', number(), { ...ifYes('staff'), fact: 'employees', check: { least: 1 } }),
	q('staff_paid', 'How often are they paid?', oneOf('every week', 'every two weeks', 'twice a month', 'every month'), ifYes('staff')),
	q('freelance', 'Do you pay people who are not employed by you?', yesNo),
	q('freelance_who', 'About how many, and for what?', words, ifYes('freelance'))
];
const closing: Question[] = [
	q('expect', 'What should be different with us?', words, { part: 'Working together', ...optional, help: 'What has cost you time or worry so far?' }),
	q('soon', 'Is anything coming up that we should know of?', words, { ...optional, help: 'A purchase, a loan, a move, somebody leaving.' }),
	q('reach', 'How do you like to be reached?', oneOf('by e-mail', 'by phone', 'by text message'))
];

interface Ready {
	id: string;
	/** what it asks about, for choosing */
	about: string;
	/** @param year of questionnaires by year: the one that is asked about */
	of(currency: string, year: number): Questionnaire;
}
const ready = (
	id: string,
	name: string,
	about: string,
	of: (currency: string, year: number) => { questions: Question[] } & Partial<Questionnaire>
): Ready & { name: string } => ({
	id,
	name,
	about,
	of: (currency, year) => ({ name, about, files: false, signed: false, ends: [], year: null, ...of(currency, year) })
});

/** Questionnaires that ship with the product. Using one makes a copy. */
export const READY_MADE_QUESTIONNAIRES: readonly (Ready & { name: string })[] = [
	ready('company', 'Getting to know your company', 'Who owns it, how its books are kept, money, tax and staff.', (currency) => ({
		questions: [
			q('does', 'What does the company do?', words, { part: 'Who you are', help: 'In your own words, as you would tell a neighbour.' }),
			q('form', 'Which legal form does it have?', oneOf('company', 'partnership', 'co-operative', 'non-profit'), {
				help: 'It is written on the papers of its founding.'
			}),
			q('founded', 'Since when is there the company?', date, { ...optional, ...notFuture }),
			q('papers', 'The papers of its founding', { is: 'file', accepts: 'any' }, { ...optional, help: 'A photo of each page is enough.' }),
			q('number', 'Its business number', { is: 'tax_number', check: '' }, { fact: 'tax_number' }),
			q('address', 'Its address', { is: 'address' }, { fact: 'address' }),
			q(
				'directors',
				'Who are the directors?',
				table([column('name', 'Name'), column('since', 'Since', 'date'), column('email', 'E-mail', 'email')]),
				{
					check: { least: 1, most: 20 }
				}
			),
			q('owners', 'Who owns it?', table([column('name', 'Name'), percent('share', 'Share')]), { check: { least: 1, most: 40 } }),
			q('agreement', 'Is there an agreement between the owners?', yesNo, { under: 'owners', when: { is: 'more_rows', value: '1' } }),
			q('related', 'Do the owners have other businesses?', yesNo),
			q('related_which', 'Which ones, and do they trade with this one?', words, ifYes('related')),
			...booksOf({ is: 'money', currency }),
			q('dividends', 'Have dividends been paid in the last two years?', yesNo, { part: 'Owners' }),
			q('owner_paid', 'How are the owners paid?', severalOf('a salary', 'dividends', 'they take money as they need it')),
			q('owner_loans', 'Does the company owe its owners money, or they the company?', yesNo),
			q('owner_loans_which', 'How much, about, and to whom?', words, ifYes('owner_loans')),
			...closing
		]
	})),
	ready('sole-trader', 'Getting to know you and your business', 'For people who work on their own account.', (currency) => ({
		questions: [
			q('does', 'What do you do?', words, { part: 'You and your work' }),
			q('trade_name', 'Do you use a trade name?', yesNo),
			q('trade_name_is', 'Which one?', line, ifYes('trade_name')),
			q('since', 'Since when do you work on your own account?', date, notFuture),
			q('number', 'Your business number, if you have one', { is: 'tax_number', check: '' }, { fact: 'tax_number', ...optional }),
			q('address', 'Where do you work from?', { is: 'address' }, { fact: 'address' }),
			q('home', 'Is that also where you live?', yesNo),
			q('home_part', 'How much of it do you use for work?', number('%'), { ...ifYes('home'), check: { least: 0, most: 100 } }),
			q('vehicle', 'Do you use a vehicle for work?', oneOf('no', 'my own, also privately', 'one for work only')),
			q('vehicle_log', 'Do you keep a log of your trips?', yesNo, ifIs('vehicle', 'my own, also privately')),
			q('job', 'Do you also have a job?', yesNo),
			...booksOf({ is: 'money', currency }),
			...closing
		]
	})),
	ready(
		'household',
		'Your year, for your tax return',
		'A household’s personal tax, year by year: last year’s answers are proposed.',
		(_currency, year) => ({
			name: `Your year ${year}, for your tax return`,
			year,
			files: true,
			questions: [
				q('moved', `Did you move in ${year}?`, yesNo, { part: 'Your household' }),
				q('moved_to', 'Where to?', { is: 'address' }, ifYes('moved')),
				q('moved_on', 'On which day?', date, { ...ifYes('moved'), ...notFuture }),
				q('status', `How did you live at the end of ${year}?`, oneOf('alone', 'married', 'with a partner', 'separated or divorced', 'widowed')),
				q('status_since', 'Has that changed during the year?', yesNo),
				q('status_when', 'When?', date, { ...ifYes('status_since'), ...notFuture }),
				q(
					'children',
					'Who depends on you?',
					table([
						column('name', 'Name'),
						column('born', 'Born', 'date'),
						choiceColumn('lives', 'Lives with you', 'all year', 'part of the year', 'no')
					]),
					{
						...optional,
						help: 'Children, parents, others. Leave it empty if there is nobody.'
					}
				),
				q('care', 'Did you pay for their care?', yesNo, { under: 'children', when: { is: 'more_rows', value: '0' } }),
				q(
					'income',
					'What did you live on?',
					severalOf('a job', 'work on my own account', 'a pension', 'benefits', 'rent from property', 'investments'),
					{ part: 'Income' }
				),
				q('jobs', 'How many employers did you have?', number(), { ...ifHas('income', 'a job'), check: { least: 1, most: 20 } }),
				q(
					'rented',
					'Which property do you rent out?',
					table([column('where', 'Where'), percent('part', 'Your part')]),
					ifHas('income', 'rent from property')
				),
				q('sold', 'Did you sell shares, property or anything else of value?', yesNo),
				q('sold_what', 'What, and when?', words, ifYes('sold')),
				q('abroad', 'Do you own anything abroad, or have income from there?', yesNo),
				q('abroad_what', 'What, and in which country?', words, ifYes('abroad')),
				q(
					'costs',
					'For which of these did you pay?',
					{
						is: 'several_of',
						choices: ['medical costs', 'studies', 'gifts to charities', 'a pension plan', 'union dues', 'work from home'],
						other: true
					},
					{
						part: 'What may be deducted',
						...optional
					}
				),
				q('medical', 'Medical costs: for whom, and about how much?', words, ifHas('costs', 'medical costs')),
				q('studies', 'Whose studies?', line, ifHas('costs', 'studies')),
				q('home_days', 'About how many days did you work from home?', number('days'), {
					...ifHas('costs', 'work from home'),
					check: { least: 1, most: 366 }
				}),
				q('paid_ahead', 'Did you pay tax in advance during the year?', yesNo),
				q('letters', 'Did the tax office write to you?', yesNo, { help: 'If so, please add a picture of the letter at the end.' }),
				q('account', 'Is the bank account for refunds still the same?', yesNo, { part: 'At the end' }),
				q('else', 'Anything else that was different this year?', words, optional)
			]
		})
	),
	ready('payroll-start', 'Starting payroll', 'Everything before the first pay run.', () => ({
		files: true,
		questions: [
			q('first', 'When is the first pay day?', date, { part: 'Pay', ...notPast }),
			q('often', 'How often do you pay?', oneOf('every week', 'every two weeks', 'twice a month', 'every month')),
			q('registered', 'Are you registered as an employer?', yesNo),
			q('employer_number', 'Your employer number', { is: 'tax_number', check: '' }, ifYes('registered')),
			q('register_us', 'Shall we register you?', yesNo, ifNo('registered')),
			q(
				'people',
				'Who gets paid?',
				table([column('name', 'Name'), column('from', 'First day', 'date'), choiceColumn('paid', 'Paid', 'by the hour', 'a salary')]),
				{
					part: 'People',
					check: { least: 1, most: 200 }
				}
			),
			q('forms', 'Has everybody filled in their tax forms?', oneOf('yes', 'some of them', 'not yet')),
			q('before', 'Was anybody paid this year already?', yesNo),
			q('before_how', 'By whom, and are there pay slips?', words, { ...ifYes('before'), help: 'You can add them at the end.' }),
			q('holiday', 'How is holiday pay handled?', oneOrOther('paid out with every pay', 'saved until they take it', 'I do not know')),
			q(
				'benefits',
				'Do you give any benefits?',
				{ is: 'several_of', choices: ['health plan', 'pension plan', 'a car', 'a phone', 'meals or lodging'], other: true },
				optional
			),
			q('hours', 'Who sends us the hours?', line, { part: 'Every time' }),
			q('hours_how', 'In which way?', oneOrOther('a time sheet', 'an app', 'a message')),
			q('pays', 'How do people get their money?', oneOf('bank transfer', 'cheque', 'cash')),
			q('approves', 'Who approves a pay run before it goes?', line)
		]
	})),
	ready('clean-up', 'Putting your books in order', 'How far behind they are, and what there is to work with.', () => ({
		questions: [
			q('from', 'From which day on are they to be put in order?', date, { part: 'Where you stand', ...notFuture }),
			q('why', 'What has happened?', severalOf('nobody had the time', 'somebody left', 'the software was changed', 'papers were lost')),
			q('deadline', 'Is there a deadline?', yesNo),
			q('deadline_on', 'Which day, and for whom?', words, ifYes('deadline')),
			q('filed', 'Which returns have been filed for this time?', words, optional),
			q('letters', 'Has the tax office written?', yesNo),
			q('letters_open', 'Is any letter unanswered?', yesNo, ifYes('letters')),
			q('statements', 'Do you have all bank and card statements?', oneOf('yes', 'most of them', 'hardly any'), { part: 'What there is' }),
			q('online', 'Can you still get them online?', yesNo, { under: 'statements', when: { is: 'differs', value: 'yes' } }),
			q('receipts', 'How are receipts kept?', severalOf('in a box', 'in folders', 'as pictures on a phone', 'in e-mails')),
			q('cash', 'Was much paid in cash?', yesNo),
			q('cash_book', 'Is there a cash book?', yesNo, ifYes('cash')),
			q('mixed', 'Were private and business payments mixed?', yesNo),
			q('backup', 'Is there a copy of the old bookkeeping data?', yesNo),
			q('worry', 'What worries you most?', words, { part: 'In your words', ...optional })
		]
	})),
	ready('feedback', 'Three questions about us', 'Short enough that it is answered.', () => ({
		questions: [
			q('how', 'How are you getting on with us?', oneOf('very well', 'well', 'so-so', 'badly')),
			q('better', 'What could we do better?', words, optional),
			q('talk', 'Shall we give you a call about it?', yesNo)
		]
	})),
	ready(
		'enquiry',
		'Tell us about your business',
		'For a public page: people who are not clients yet. Who they are is asked there besides.',
		(currency) => ({
			questions: [
				q('form', 'What are you?', oneOf('a company', 'a sole trader', 'a partnership', 'a non-profit', 'a household')),
				q('need', 'What do you need?', severalOf('bookkeeping', 'payroll', 'sales tax', 'year end', 'putting old books in order')),
				q('behind', 'About how many months are your books behind?', number('months'), {
					...ifHas('need', 'putting old books in order'),
					check: { least: 0, most: 240 }
				}),
				q('sales', 'Sales in a year, about', { is: 'money', currency }, optional),
				q('from', 'From when?', date, { ...optional, ...notPast }),
				q(
					'last_return',
					'Your last tax return or yearly statement',
					{ is: 'file', accepts: 'any' },
					{ ...optional, help: 'It helps us to say what it would cost.' }
				),
				q('words', 'Anything else?', words, optional)
			]
		})
	)
];
