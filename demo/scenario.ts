import { aroundDue, type ChasePlan, type ChaseStep } from '../src/lib/core/chasing/chase-plan';
import type { FeeRhythm } from '../src/lib/core/letters/fees';
import type { FactForm } from '../src/lib/core/facts/fact-form';

/** The demo scenario: an invented bookkeeping firm in an invented harbour town, and its clients. */
export const DEMO_NOW = '2026-05-04T11:32:00.000Z';
export const DEMO_START = '2026-02-16T13:00:00.000Z';
export const STAFF_PASSWORD = 'lamplight ledger harbour';
export const CONTACT_PASSWORD = 'kites above the harbour';

export const FIRM = {
	slug: 'pennywhistle-row',
	name: 'Pennywhistle Row Bookkeeping',
	address: '4 Pennywhistle Row, Gullhaven',
	timeZone: 'America/Halifax',
	country: 'CA',
	brandColor: '#2f5d50',
	welcome: 'Everything we need from you is here, one step at a time.',
	mailFrom: 'office@pennywhistle.example',
	phone: '+19025550142'
};

export const HOLIDAYS = [
	{ day: '2026-02-16', name: 'Heritage Day' },
	{ day: '2026-04-03', name: 'Good Friday' },
	{ day: '2026-05-18', name: 'Victoria Day' },
	{ day: '2026-07-01', name: 'Canada Day' },
	{ day: '2026-09-07', name: 'Labour Day' },
	{ day: '2026-12-25', name: 'Christmas Day' },
	{ day: '2027-01-01', name: 'New Year’s Day' }
];

export const STAFF = [
	{ key: 'odalys', name: 'Odalys Fenwick', role: 'coordinator' },
	{ key: 'ferrin', name: 'Ferrin Ashgrove', role: 'partner' },
	{ key: 'imre', name: 'Imre Lockhart', role: 'bookkeeper' },
	{ key: 'solveig', name: 'Solveig Marsh', role: 'bookkeeper' },
	{ key: 'bram', name: 'Bram Okoro', role: 'filing' },
	{ key: 'tamsin', name: 'Tamsin Vale', role: 'administrator' }
] as const;
export type StaffKey = (typeof STAFF)[number]['key'];

/** What the firm does, in the order of its list. */
export const SERVICES = ['Monthly books', 'Sales tax', 'Year end', 'Payroll', 'Personal tax', 'Clean-up of past months'];
/** What they usually cost; the clean-up is agreed each time. */
export const USUAL_FEES: readonly (readonly [service: string, fee: string, every: FeeRhythm])[] = [
	['Monthly books', '280', 'month'],
	['Sales tax', '60', 'month'],
	['Year end', '900', 'year'],
	['Payroll', '45', 'month'],
	['Personal tax', '220', 'year']
];

/** A list that a retiring bookkeeper of the next harbour handed over. */
export const HANDED_OVER = {
	on: '2026-04-30',
	fileName: 'Clients of Dorrit Hale.csv',
	csv: [
		'Client;Contact;E-mail;Phone;Role;Looked after by;Services;Tax number;Year end',
		'Mizzen & Daughter Sails;Corwin Mizzen;corwin@mizzensails.example;902 555 0161;owner;Imre Lockhart;Monthly books;R-318-022;12-31',
		'Mizzen & Daughter Sails;Posy Mizzen;;902 555 0162;office;;;;',
		'Samphire Pickles;Edda Crane;edda@samphirepickles.example;;owner;Imre Lockhart;"Monthly books; Sales tax";R-318-047;03-31',
		'The Lamp Room;Hollis Tarn;;902 555 0164;manager;Solveig Marsh;Payroll;R-318-051;12-31'
	].join('\r\n')
};

const choices = (...words: string[]) => words.map((one) => ({ key: one.toLowerCase().replaceAll(' ', '_'), words: one }));
/** What this firm wants to know beyond what ships with the product. */
export const OWN_FACTS: FactForm[] = [
	{
		label: 'What they do',
		hint: 'in a sentence, as they would say it',
		heading: 'The business',
		is: { kind: 'lines', max: 4000 },
		clientMay: 'correct',
		seenBy: 'all',
		secret: false,
		confirmAfter: null
	},
	{
		label: 'Kind of till',
		hint: '',
		heading: 'The books',
		is: { kind: 'choice', choices: choices('no till', 'cash register', 'card reader', 'online shop') },
		clientMay: 'correct',
		seenBy: 'all',
		secret: false,
		confirmAfter: null
	},
	{
		label: 'Customers pay by',
		hint: '',
		heading: 'The books',
		is: { kind: 'several', choices: choices('cash', 'card', 'bank transfer', 'platform') },
		clientMay: 'correct',
		seenBy: 'all',
		secret: false,
		confirmAfter: null
	},
	{
		label: 'Sales of the last year',
		hint: 'about, before tax',
		heading: 'Tax and payroll',
		is: { kind: 'money', currency: 'CAD' },
		clientMay: 'correct',
		seenBy: 'keepers',
		secret: false,
		confirmAfter: 12
	},
	{
		label: 'Directors',
		hint: '',
		heading: 'The business',
		is: {
			kind: 'table',
			columns: [
				{ key: 'name', label: 'Name', is: { kind: 'words', max: 200 } },
				{ key: 'share', label: 'Share', is: { kind: 'number', unit: '%', whole: false } }
			]
		},
		clientMay: 'correct',
		seenBy: 'all',
		secret: false,
		confirmAfter: 12
	},
	{
		label: 'Social insurance number',
		hint: 'of the owner, for their own return',
		heading: 'Tax and payroll',
		is: { kind: 'tax_number', check: 'CA.sin' },
		clientMay: 'nothing',
		seenBy: 'keepers',
		secret: true,
		confirmAfter: null
	}
];

/** What is known of some clients beyond their name, each said on a day by somebody of the firm. */
export interface DemoRecord {
	role?: string;
	facts?: [name: string, value: string, saidOn: string, by: StaffKey][];
	engagements?: [name: string, beganOn: string, services: string[]][];
	notes?: [words: string, on: string, by: StaffKey][];
	/** the firm stops for a while, or for good */
	closed?: { move: 'lock' | 'end'; on: string; reason: string; by: StaffKey };
}
export const RECORDS: Record<string, DemoRecord> = {
	'Gull & String Kites': {
		role: 'owner',
		facts: [
			['legal_form', 'sole_trader', '2026-04-07', 'odalys'],
			['tax_number', 'R-204-881', '2026-04-09', 'odalys'],
			['address', 'The Net Loft\n2 Slipway Lane, Gullhaven', '2026-04-07', 'odalys'],
			['year_end', '12-31', '2026-04-07', 'odalys'],
			['employees', '1', '2026-04-07', 'odalys'],
			['employees', '2', '2026-04-22', 'imre'],
			['payroll', 'yes', '2026-04-22', 'imre'],
			['sales_tax', 'yes', '2026-04-09', 'odalys'],
			['what_they_do', 'Handmade kites and wind toys, sold at markets and on the web', '2026-04-07', 'odalys'],
			['customers_pay_by', 'card; cash', '2026-04-22', 'imre'],
			['social_insurance_number', '046 454 286', '2026-04-09', 'odalys']
		],
		engagements: [['Taking on and monthly books', '2026-04-07', ['Monthly books', 'Sales tax', 'Payroll']]],
		notes: [['Prefers a call after four, when the workshop closes. Sends everything as photographs; that is fine.', '2026-04-16', 'odalys']]
	},
	'Foxglove Boatyard': {
		role: 'owner',
		facts: [
			['legal_form', 'company', '2026-03-20', 'odalys'],
			['tax_number', 'B-771-302', '2026-03-20', 'odalys'],
			['year_end', '03-31', '2026-03-20', 'odalys'],
			['directors', '[{"name":"Tolly Foxglove","share":"60"},{"name":"Ada Foxglove","share":"40"}]', '2026-03-20', 'odalys']
		],
		engagements: [['Monthly books', '2026-03-20', ['Monthly books', 'Year end']]],
		notes: [['Rang on 21 and 28 April, both times the machine. Ask Ferrin whether we go on.', '2026-04-28', 'odalys']]
	},
	'Brine & Barrow Oysters': {
		role: 'managing partner',
		facts: [
			['legal_form', 'partnership', '2026-02-17', 'odalys'],
			['tax_number', 'P-118-640', '2026-02-17', 'odalys'],
			['year_end', '12-31', '2026-02-17', 'odalys'],
			['bank_accounts', '3', '2026-02-19', 'odalys'],
			['sales_tax', 'yes', '2026-02-17', 'odalys'],
			['sales_tax_period', 'quarterly', '2026-02-17', 'odalys']
		],
		engagements: [
			['Monthly books', '2026-02-17', ['Monthly books', 'Sales tax']],
			['Year end 2025', '2026-04-13', ['Year end']]
		]
	},
	'Dr. Pell, Travelling Vet': {
		role: 'vet',
		facts: [
			['legal_form', 'sole_trader', '2026-04-13', 'odalys'],
			['year_end', '12-31', '2026-04-13', 'odalys'],
			['method', 'cash', '2026-04-15', 'odalys']
		],
		engagements: [['Monthly books and personal tax', '2026-04-13', ['Monthly books', 'Personal tax']]]
	},
	'Ferry Café': {
		role: 'co-owner',
		facts: [
			['legal_form', 'partnership', '2026-04-21', 'odalys'],
			['payroll', 'yes', '2026-04-21', 'odalys'],
			['employees', '6', '2026-04-21', 'odalys']
		],
		engagements: [['Taking on and monthly books', '2026-04-21', ['Monthly books', 'Payroll', 'Sales tax']]]
	},
	'Ivory Gull Laundry': {
		closed: { move: 'lock', on: '2026-04-28', reason: 'Moves to the new building in May; asked us to wait until June.', by: 'odalys' }
	},
	'Barnacle Books': {
		closed: { move: 'end', on: '2026-04-24', reason: 'Mr Oates has closed the shop and sold the stock.', by: 'ferrin' }
	}
};

/** What the client's contact does with a request, in business days after it was sent. */
export interface Behaviour {
	/** when each item is handed in, by position; null never. Missing positions repeat the last one. */
	handIn: (number | null)[];
	/** when the firm accepts, in business days after handing in; null leaves it to look at */
	accept: (number | null)[];
	/** position of an item that was sent back once, a day after it came, with this reason; not handed in again if `stays` */
	sentBack?: { position: number; reason: string; stays: boolean };
	/** position of an item said not to apply */
	no?: { position: number; reason: string; after: number };
	/** the letter is signed but waits for the firm */
	letterWaits?: boolean;
}

const NEVER: Behaviour = { handIn: [null], accept: [null] };
const ALL_AT_ONCE: Behaviour = { handIn: [0], accept: [1] };
const STEADY: Behaviour = { handIn: [1, 1, 2, 3, 4, 5, 6, 7], accept: [1] };
const MONTH_DONE: Behaviour = { handIn: [3, 3, 4, 4], accept: [1] };

export interface DemoRequest {
	list: 'taking-on' | 'month' | 'year-end';
	/** without one, the papers of the month before */
	title?: string;
	sentOn: string;
	behaviour: Behaviour;
	/** only the first lines of the list */
	lines?: number;
	/** chased by a plan of its own */
	plan?: keyof typeof DEMO_PLANS;
}

const due = (days: number, more: Partial<ChaseStep> = {}): ChaseStep => ({ ...aroundDue(days), ...more });
/** Chase plans beside the usual one. */
export const DEMO_PLANS = {
	call: {
		name: 'Patient, then a call',
		steps: [
			due(1),
			due(3, { by: 'call' }),
			{ when: { kind: 'after', days: 5 }, by: 'email', firmer: true },
			{ when: { kind: 'after', days: 4 }, by: 'call', firmer: false },
			{ when: { kind: 'after', days: 5 }, by: 'partner', firmer: false }
		]
	},
	text: {
		name: 'By text on Wednesdays',
		steps: [
			due(-1, { by: 'text' }),
			{ when: { kind: 'weekly', weekday: 3, times: 3 }, by: 'text', firmer: false },
			due(12, { by: 'both', firmer: true })
		]
	}
} satisfies Record<string, ChasePlan>;
/** A call that was noted. */
export const CALLED = {
	client: 'Marrow & Thyme Kitchen Garden',
	day: '2026-04-15',
	time: '15:20',
	note: 'The last statement comes by post; he scans it on Friday.',
	until: '2026-04-17'
} as const;

export interface DemoClient {
	name: string;
	kind: 'business' | 'person';
	contact: [name: string, email: string];
	second?: [name: string, email: string];
	responsible: StaffKey;
	addedOn: string;
	/** business days from the invitation to taking it up; null never */
	takesUp: number | null;
	/** opened the link without going on */
	opensOnly?: boolean;
	/** invited with the first request rather than before it */
	invitedWithRequest?: boolean;
	requests: DemoRequest[];
	fee: string;
	services: string;
}

const march = (behaviour: Behaviour): DemoRequest => ({ list: 'month', sentOn: '2026-03-02', behaviour });
const april = (behaviour: Behaviour): DemoRequest => ({ list: 'month', sentOn: '2026-04-01', behaviour });
const may = (behaviour: Behaviour): DemoRequest => ({ list: 'month', sentOn: '2026-05-01', behaviour });
const takingOn = (sentOn: string, behaviour: Behaviour, lines = 8): DemoRequest => ({
	list: 'taking-on',
	title: 'Getting started',
	sentOn,
	behaviour,
	lines
});
const yearEnd = (sentOn: string, behaviour: Behaviour): DemoRequest => ({ list: 'year-end', title: 'Year end 2025', sentOn, behaviour });

function client(
	name: string,
	contact: [string, string],
	responsible: StaffKey,
	addedOn: string,
	takesUp: number | null,
	requests: DemoRequest[],
	more: Partial<DemoClient> = {}
): DemoClient {
	return {
		name,
		kind: 'business',
		contact,
		responsible,
		addedOn,
		takesUp,
		requests,
		fee: '$340',
		services: 'the monthly books, sales tax and the year end',
		...more
	};
}

const TOBIAS: [string, string] = ['Tobias Quay', 'tobias@quay.example'];

/** Whose people are written to by text message, too or only. */
export const TEXTED: Readonly<Record<string, 'text' | 'both'>> = {
	'Harbour Light Electrics': 'both',
	'Jackdaw Joinery': 'text',
	'Elder & Vine Cider': 'both'
};

/** Whose people read the portal and what is written to them in French. */
export const FRENCH: ReadonlySet<string> = new Set(['Grebe Cottage Lets', 'Nine Elms Nursery']);

/** What one of them answered by text. */
export const TEXT_ANSWER = { client: 'Harbour Light Electrics', on: '2026-05-01', words: 'The bank is slow this month. Wednesday, I hope! Dmitri' };

/** Which of the ready-made texts the firm has made its own, and one that somebody wrote. */
export const LIBRARY = ['welcome', 'month', 'pages-missing'];
export const OWN_TEXT = {
	kind: 'request',
	name: 'Before the busy season',
	folder: 'Year end',
	tags: 'year end',
	body: 'The year end of {client_name} comes up. The sooner your papers are here, the sooner you know what you owe, and the more time there is to do something about it.\n\nThank you, {contact_first_name}.'
};

/** Enough of them for practising: one at each stage. */
export const PRACTICE_CLIENTS: readonly string[] = [
	'Foxglove Boatyard',
	'Gull & String Kites',
	'Kelp & Co. Soap',
	'Dr. Pell, Travelling Vet',
	'Ferry Café',
	'Midnight Bakery',
	'Aster Dahl, tutor',
	'Rope Walk Chandlery',
	'Grebe Cottage Lets',
	'Harbour Light Electrics',
	'Tidewrack Salvage'
];

export const CLIENTS: readonly DemoClient[] = [
	client(
		'Foxglove Boatyard',
		['Edmund Lune', 'edmund@foxgloveboats.example'],
		'odalys',
		'2026-03-20',
		2,
		[takingOn('2026-03-24', { ...NEVER, handIn: [3, null], accept: [1] })],
		{ fee: '$520' }
	),
	client(
		'Gull & String Kites',
		['Mara Whitlock', 'mara@gullstring.example'],
		'odalys',
		'2026-04-07',
		1,
		[takingOn('2026-04-08', { handIn: [1, 1, 3, 17, 17, null, 6, null], accept: [1, 1, 1, null, null, 1, 1, 1] })],
		{ fee: '$280' }
	),
	client('Kelp & Co. Soap', ['Wilhelmina Tarn', 'moved-away@kelpsoap.example'], 'odalys', '2026-04-28', null, []),
	client(
		'Dr. Pell, Travelling Vet',
		['Ruben Pell', 'ruben@pellvet.example'],
		'odalys',
		'2026-04-13',
		1,
		[
			takingOn('2026-04-15', {
				handIn: [1, 2, 3, 4, 5, 12, 6, 7],
				accept: [1, 1, 1, 1, 1, null, 1, 1],
				sentBack: { position: 4, reason: 'The statement for March is missing its second page. Could you add it?', stays: true }
			})
		],
		{ kind: 'person', fee: '$210', services: 'the monthly books and personal tax' }
	),
	client(
		'Ferry Café',
		['Juno Thorne', 'juno@ferrycafe.example'],
		'odalys',
		'2026-04-21',
		1,
		[takingOn('2026-04-23', { handIn: [5, 2, 2, 3, 3, 4, 4, 4], accept: [1], letterWaits: true })],
		{ second: ['Abel Thorne', 'abel@ferrycafe.example'] }
	),
	client('Brine & Barrow Oysters', TOBIAS, 'odalys', '2026-02-17', 1, [
		takingOn('2026-02-19', STEADY),
		march(MONTH_DONE),
		april({ handIn: [6, 6, 8, 5], accept: [1] }),
		yearEnd('2026-04-13', { handIn: [10, null, 3, null, null], accept: [null, 1, 1, 1, 1] })
	]),
	client(
		'Saltgrass Bee Co-op',
		['Nessa Orr', 'nessa@saltgrassbees.example'],
		'odalys',
		'2026-04-22',
		1,
		[takingOn('2026-04-24', { handIn: [2, 3, null, 4, null], accept: [1, 1, 1, null, 1] })],
		{ fee: '$390' }
	),
	client(
		'Lantern Street Players',
		['Ines Marlowe', 'ines@lanternstreet.example'],
		'odalys',
		'2026-03-04',
		2,
		[
			takingOn('2026-03-06', ALL_AT_ONCE),
			april(MONTH_DONE),
			may({ handIn: [null], accept: [1], no: { position: 2, reason: 'No shows in April, so no sales.', after: 0 } })
		],
		{ fee: '$180', services: 'the monthly books and the year end' }
	),
	client('Cinder Hill Pottery', ['Yara Brandt', 'yara@cinderhill.example'], 'solveig', '2026-02-18', 1, [
		yearEnd('2026-04-27', { handIn: [null, null, 2, null], accept: [1] })
	]),
	client('Midnight Bakery', ['Cosmo Reyes', 'cosmo@midnightbakery.example'], 'odalys', '2026-04-24', null, [takingOn('2026-04-27', NEVER)], {
		opensOnly: true
	}),
	client('Aster Dahl, tutor', ['Aster Dahl', 'aster@dahltutoring.example'], 'odalys', '2026-04-17', null, [], {
		kind: 'person',
		fee: '$120',
		services: 'personal tax'
	}),
	client('Tern Point Ferries', TOBIAS, 'imre', '2026-02-17', 1, [march(MONTH_DONE), april(MONTH_DONE), may({ handIn: [null], accept: [1] })]),
	client('Quay & Sons Moorings', TOBIAS, 'imre', '2026-03-10', 1, [april({ handIn: [2, 3, null, 3], accept: [1] })]),
	client('Rope Walk Chandlery', ['Gideon Fisk', 'gideon@ropewalk.example'], 'imre', '2026-02-18', 1, [
		takingOn('2026-02-20', ALL_AT_ONCE),
		march(ALL_AT_ONCE),
		april(ALL_AT_ONCE),
		may(ALL_AT_ONCE)
	]),
	client('Wren & Daughter Clocks', ['Philippa Wren', 'philippa@wrenclocks.example'], 'solveig', '2026-02-19', 2, [
		march(MONTH_DONE),
		april(MONTH_DONE),
		may(NEVER)
	]),
	client('Quay Lane School Wear', ['Dorothea Blythe', 'dorothea@quaylane.example'], 'imre', '2026-04-15', 2, [
		yearEnd('2026-04-16', { handIn: [3, 4, 5, null], accept: [1] }),
		may({ handIn: [0, null], accept: [null] })
	]),
	client('Half Moon Bicycle Hire', ['Anselm Roy', 'anselm@halfmoonbikes.example'], 'imre', '2026-02-20', 1, [march(MONTH_DONE), april(MONTH_DONE)]),
	client(
		'Olive Tamarack, translator',
		['Olive Tamarack', 'olive@tamarack.example'],
		'solveig',
		'2026-04-08',
		3,
		[yearEnd('2026-04-14', { handIn: [4, 5, 6, null], accept: [1] })],
		{ kind: 'person', fee: '$150', services: 'personal tax' }
	),
	client('Plover Lane Dental Lab', ['Henrike Moss', 'henrike@ploverlab.example'], 'imre', '2026-02-23', 1, [march(MONTH_DONE), april(ALL_AT_ONCE)]),
	client('Marrow & Thyme Kitchen Garden', ['Leopold Vance', 'leopold@marrowthyme.example'], 'solveig', '2026-03-02', 1, [
		takingOn('2026-03-03', STEADY),
		{ ...april({ handIn: [5, 7, 8, null], accept: [1] }), plan: 'call' }
	]),
	client(
		'The Copper Thimble',
		['Rosalba Finch', 'rosalba@copperthimble.example'],
		'odalys',
		'2026-04-28',
		1,
		[takingOn('2026-04-29', { handIn: [1, 2, null], accept: [1, null] })],
		{ invitedWithRequest: true }
	),
	client('Bluff Road Veterinary Feed', ['Casimir Dunn', 'casimir@bluffroad.example'], 'imre', '2026-02-24', 2, [
		march(MONTH_DONE),
		april({ handIn: [8, 8, 9, 9], accept: [1] }),
		may(NEVER)
	]),
	client('Heron & Pike Anglers', ['Salome Pike', 'salome@heronpike.example'], 'solveig', '2026-03-11', 1, [
		takingOn('2026-03-12', STEADY),
		may({ handIn: [1, null], accept: [null] })
	]),
	client(
		'Skylark Removals',
		['Benedikt Arrow', 'benedikt@skylarkmoves.example'],
		'imre',
		'2026-03-16',
		2,
		[takingOn('2026-03-18', { handIn: [2, 3, 4, 5, 7, 9, 9, 9], accept: [1] })],
		{ fee: '$460' }
	),
	client('Tidewrack Salvage', ['Hester Gale', 'hester@tidewrack.example'], 'odalys', '2026-03-30', 4, [
		takingOn('2026-04-02', { handIn: [4, 4, null], accept: [1] })
	]),
	client('Nine Elms Nursery', ['Viola Marchetti', 'viola@nineelms.example'], 'solveig', '2026-02-25', 1, [
		march(MONTH_DONE),
		april(MONTH_DONE),
		may({ handIn: [0], accept: [null] })
	]),
	client('Barnacle Books', ['Percival Oates', 'percival@barnaclebooks.example'], 'imre', '2026-02-26', 1, [march(ALL_AT_ONCE), april(MONTH_DONE)]),
	client('Candlewick Yarn', ['Augusta Reed', 'augusta@candlewick.example'], 'solveig', '2026-02-26', 1, [
		march(MONTH_DONE),
		april(MONTH_DONE),
		may(NEVER)
	]),
	client('Driftline Surf School', ['Kai Sorensen', 'kai@driftline.example'], 'odalys', '2026-04-30', null, [takingOn('2026-05-01', NEVER)], {
		invitedWithRequest: true
	}),
	client('Elder & Vine Cider', ['Beatrix Holm', 'beatrix@eldervine.example'], 'imre', '2026-03-03', 2, [
		takingOn('2026-03-05', STEADY),
		april(MONTH_DONE),
		may(NEVER)
	]),
	client(
		'Fennel Street Pharmacy',
		['Oskar Lindqvist', 'oskar@fennelstreet.example'],
		'solveig',
		'2026-02-27',
		1,
		[march(MONTH_DONE), april(MONTH_DONE), may({ handIn: [1, 1, null], accept: [null] })],
		{ fee: '$610' }
	),
	client('Grebe Cottage Lets', ['Marguerite Sloane', 'marguerite@grebecottage.example'], 'odalys', '2026-04-27', 2, [
		takingOn('2026-04-28', { handIn: [null, 3, null], accept: [1] })
	]),
	client('Harbour Light Electrics', ['Dmitri Vale', 'dmitri@harbourlight.example'], 'imre', '2026-03-05', 1, [april(MONTH_DONE), may(NEVER)]),
	client('Ivory Gull Laundry', ['Perpetua Lane', 'perpetua@ivorygull.example'], 'solveig', '2026-03-06', 1, [
		april({ handIn: [9, 9, 10, 10], accept: [1] })
	]),
	client('Jackdaw Joinery', ['Linus Hargrave', 'linus@jackdaw.example'], 'imre', '2026-03-09', 2, [april(MONTH_DONE), may(NEVER)]),
	client('Kittiwake Dance Studio', ['Zelda Okafor', 'zelda@kittiwake.example'], 'odalys', '2026-04-29', null, []),
	client('Longshore Press', ['Mortimer Bell', 'mortimer@longshore.example'], 'solveig', '2026-03-10', 1, [april(MONTH_DONE)]),
	client('Mossbank Surveyors', ['Cordelia Stone', 'cordelia@mossbank.example'], 'imre', '2026-03-12', 1, [
		april(MONTH_DONE),
		yearEnd('2026-04-20', { handIn: [2, 3, 5, 6, 7], accept: [1] })
	]),
	client('North Mole Fish Smokers', ['Thaddeus Birch', 'thaddeus@northmole.example'], 'odalys', '2026-04-09', 3, [
		takingOn('2026-04-14', { handIn: [5, 6, 8, null], accept: [1] })
	]),
	client('Otter & Oak Toys', ['Clementine Rusk', 'clementine@otteroak.example'], 'solveig', '2026-05-01', null, [])
];

/** Accounts that are known, and what is asked again and again by them. */
export const ACCOUNTS: Readonly<
	Record<
		string,
		readonly [kind: 'bank' | 'card' | 'loan' | 'payment', institution: string, lastFour: string, closingDay: number, openedOn?: string][]
	>
> = {
	'Gull & String Kites': [
		['bank', 'Tideline Savings', '4471', 31],
		['card', 'Tideline Card', '0092', 15]
	],
	'Brine & Barrow Oysters': [
		['bank', 'Harbour Union', '7710', 31],
		['bank', 'Harbour Union, payroll', '7728', 31],
		['card', 'Gullhaven Card', '3304', 20],
		['loan', 'Tideline Loans, the barge', '9002', 31, '2026-02-12']
	],
	'Longshore Press': [
		['bank', 'Tideline Savings', '1180', 31],
		['payment', 'Tillpenny', '', 31]
	],
	'Tern Point Ferries': [['bank', 'Harbour Union', '5536', 31]]
};
/** Clients who are asked for their monthly papers by themselves, and the day of the month. */
export const STANDING: readonly [client: string, day: number][] = [
	['Brine & Barrow Oysters', 1],
	['Longshore Press', 1],
	['Tern Point Ferries', 4],
	['Half Moon Bicycle Hire', 1]
];
/** What a client asked about something open, and for whom a list waits as a draft. */
/** Ready-made forms that the firm took over, and for which services. */
export const FORMS: readonly (readonly [ready: string, services: readonly string[]])[] = [
	['letter-from-us', []],
	['from-authority', []],
	['new-employee', ['Payroll']],
	['something-else', []]
];
/** What a client asks for by themselves. */
export const RAISED = {
	client: 'Tidewrack Salvage',
	form: 'letter-from-us',
	on: '2026-05-01',
	answers: {
		who: 'The landlord of the new yard',
		what: 'That the business has traded since 2019 and pays its bills.',
		by: '2026-05-15',
		language: 'English'
	}
} as const;
/** What the bank gave out, of which the firm asks about what nobody can place; the client has begun to answer. */
export const TRANSACTIONS = {
	client: 'Brine & Barrow Oysters',
	institution: 'Harbour Union',
	file: 'harbour-union-7710-april.csv',
	askedOn: '2026-04-29',
	answeredOn: '2026-04-30',
	lines: [
		['2026-04-01', 'Seabright Fuel', 'CARD 7710', 'Vehicle', '-118.40'],
		['2026-04-02', 'Harbour Hardware', 'CARD 7710', 'Uncategorized', '-84.20'],
		['2026-04-03', '', 'TRANSFER 009921', 'Uncategorized', '-1200.00'],
		['2026-04-07', 'Gullhaven Card', 'PAYMENT', 'Card', '-642.15'],
		['2026-04-09', 'T. Barrow', 'E-TRANSFER', 'Uncategorized', '350.00'],
		['2026-04-13', 'Quayside Market', 'DEPOSIT', 'Sales', '2480.00'],
		['2026-04-14', 'Puffin Print & Sign', 'CARD 7710', 'Uncategorized', '-212.75'],
		['2026-04-15', 'Harbour Union', 'MONTHLY FEE', 'Bank charges', '-14.50'],
		['2026-04-20', 'Ropewalk Supplies', 'CARD 7710', 'Gear', '-96.00'],
		['2026-04-21', 'Lantern Inn', 'CARD 7710', 'Ask the client', '-137.10'],
		['2026-04-24', 'Festival of Oysters', 'DEPOSIT', 'Sales', '5120.00'],
		['2026-04-27', 'North Mole Ice', 'PRE-AUTHORISED', 'Supplies', '-75.00']
	],
	answers: [
		['Harbour Hardware', 'choice', 'Business expense'],
		['T. Barrow', 'words', 'My own money, lent until the festival paid']
	]
} as const;
export const QUESTION = { client: 'Candlewick Yarn', on: '2026-05-01', words: 'The bank gives me one file for two months. Is that all right?' };
export const DRAFTS_FOR = ['Longshore Press', 'Barnacle Books', 'Half Moon Bicycle Hire', 'Nine Elms Nursery'];
