import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { findPlaces, kindOfLabel, partiesOf } from './find-places';
import { LETTER_STATES } from './letter-states';
import { seenSize, toPage, toSeen, uprightMatrix, type PageShape } from './page-space';
import { applies, fieldsOf, initialsOf, keptValues, leftOf, placesMissing, placesSchema, TICKED, wrongValue, type Place } from './places';
import { letter } from '../items/kinds/letter';
import { letterStateOf, SIGNER_MOVES, SIGNER_STATES, signerStateAfter, whoIsNext, type Routed } from './routing';
import { closeRanks, orderInSentences, orderMistakes, usualSigners, wayOfContact, type Signer, type SigningPeople } from './signers';
import { hinted, waysFor, type SigningWay } from './ways';

const person = (n: number, name: string, email = `${name.split(' ')[0].toLowerCase()}@example.test`) => ({
	id: `00000000-0000-4000-8000-00000000000${n}`,
	name,
	email
});
const people: SigningPeople = {
	check: null,
	clientId: 'c',
	outside: [person(6, 'Edda Lorne')],
	contacts: [person(1, 'Mara Whitlock'), person(2, 'Tobias Quay'), person(3, 'Ines Brandt')],
	staff: [
		{ ...person(4, 'Ferrin Ashgrove'), maySign: true },
		{ ...person(5, 'Bram Oxley'), maySign: false }
	]
};
const ferrin: Signer = { key: 'f', who: { as: 'firm', staffId: people.staff[0].id }, does: 'signs', rank: 3 };
const bram: Signer = { key: 'c', who: { as: 'firm', staffId: people.staff[1].id }, does: 'copy', rank: 1 };
const mara: Signer = { key: 'a', who: { as: 'first' }, does: 'signs', rank: 1 };
const tobias: Signer = { key: 'b', who: { as: 'second' }, does: 'signs', rank: 2 };

describe('the order in sentences', () => {
	test('one after the other, us last, copies at the end', () => {
		expect(orderInSentences([bram, mara, tobias, ferrin], people)).toEqual({
			steps: ['Mara Whitlock signs', 'Then Tobias Quay signs', 'Then Ferrin Ashgrove signs for us'],
			ways: [],
			end: 'When all have signed, it is sealed and everybody who signed has it, and Bram Oxley gets a copy.'
		});
	});
	test('together, and by whoever it will be', () => {
		expect(orderInSentences([mara, { ...tobias, rank: 1 }], people).steps).toEqual([
			'Mara Whitlock and Tobias Quay sign, in whichever order they like'
		]);
		expect(orderInSentences(usualSigners(), { ...people, contacts: null })).toEqual({
			steps: ['Whoever gets this request signs', 'Then anyone of us who may signs for us'],
			ways: [],
			end: 'When both have signed, it is sealed and everybody who signed has it.'
		});
	});
	test('who signs without signing in, and how, is said; of us nobody does', () => {
		const by = 'link_mail';
		expect(
			orderInSentences(
				[
					{ ...mara, by },
					{ ...tobias, by: 'link' },
					{ ...ferrin, by }
				],
				people
			).ways
		).toEqual([
			'Mara Whitlock signs by a link of their own and a code by e-mail.',
			'Tobias Quay signs by a link of their own alone: whoever has the link can sign.'
		]);
		const [first, second] = people.contacts!;
		const ways = (signers: Signer[], contact: string) => wayOfContact(signers, contact, first.id, people);
		expect(ways([{ ...usualSigners()[0], by }], first.id)).toBe('link_mail');
		expect(ways([{ ...usualSigners()[0], by }], second.id)).toBeNull();
		expect(ways([mara, { ...tobias, by, does: 'copy' }], second.id)).toBeNull();
		expect(ways([mara, { ...tobias, by }], second.id)).toBe('link_mail');
		expect(ways([mara], first.id)).toBe('portal');
	});
	test('somebody outside the client signs by a link, and has to have a name once the client is known', () => {
		const edda: Signer = { key: 'o', who: { as: 'contact', contactId: people.outside[0].id }, does: 'signs', rank: 2 };
		expect(orderInSentences([mara, { ...edda, by: 'link_mail' }], people)).toMatchObject({
			steps: ['Mara Whitlock signs', 'Then Edda Lorne signs'],
			ways: ['Edda Lorne, who is not of the client, signs by a link of their own and a code by e-mail.']
		});
		const [mistake, ...more] = orderMistakes([mara, edda, ferrin], people, null);
		expect(more).toEqual([]);
		expect(mistake.words).toBe('Edda Lorne is not of the client and has no page here. They can sign by a link of their own.');
		expect(orderMistakes(mistake.mend!.signers, people, null)).toEqual([]);
		// a copy needs no page
		expect(orderMistakes([mara, { ...edda, does: 'copy' }, ferrin], people, null)).toEqual([]);
		const somebody: Signer = { ...edda, who: { as: 'outside' } };
		const [unnamed] = orderMistakes([mara, somebody, ferrin], people, null);
		expect(unnamed.words).toBe('Somebody outside the client has no name yet. Say who it is.');
		// in a letter for whoever it will be, they are named when it is sent
		const nobodyYet = { ...people, clientId: null, contacts: null, outside: [] };
		expect(orderMistakes([mara, somebody, ferrin], nobodyYet, null)).toEqual([]);
		expect(orderInSentences([mara, somebody], nobodyYet).ways).toEqual([
			'Somebody outside the client signs by a link of their own and a code by e-mail.'
		]);
	});
	test('a code by text needs a number, or goes by e-mail', () => {
		const [mistake, ...more] = orderMistakes([{ ...mara, by: 'link_text' }, ferrin], people, null);
		expect(more).toEqual([]);
		expect(mistake.words).toBe('Mara Whitlock has no phone number that a code could go to. Add it to the client, or choose another way for them.');
		expect(mistake.mend!.signers[0].by).toBe('link_mail');
		const reached = { ...people, contacts: [{ ...people.contacts![0], phone: '+19025550142' }] };
		expect(orderMistakes([{ ...mara, by: 'link_text' }, ferrin], reached, null)).toEqual([]);
	});
	test('an identity check is said with what it costs, and needs a service', () => {
		const by = 'link_check';
		const check = { name: 'Quayside Identity', costs: '1.40 CAD each time' };
		expect(orderInSentences([{ ...mara, by }, ferrin], { ...people, check }).ways).toEqual([
			'Mara Whitlock signs by a link of their own, a code by e-mail and an identity check by Quayside Identity, which costs 1.40 CAD each time.'
		]);
		expect(orderMistakes([{ ...mara, by }, ferrin], { ...people, check }, null)).toEqual([]);
		const [mistake, ...more] = orderMistakes([{ ...mara, by }, ferrin], people, null);
		expect(more).toEqual([]);
		expect(mistake.words).toContain('No service that checks identities is set up here.');
		expect(orderMistakes(mistake.mend!.signers, people, null)).toEqual([]);
		// it is offered where there is one, and stays where it was chosen
		const offered = (now: SigningWay, service: typeof check | null, outside = false) => waysFor({ outside, check: service, now });
		expect(offered('portal', null)).not.toContain(by);
		expect(offered('portal', check)).toContain(by);
		expect(offered(by, null)).toContain(by);
		expect(offered('link', check, true)).not.toContain('portal');
	});
	test.each([
		['mara@gullstring.example', 'm***@gullstring.example'],
		['+19025550142', '*** 142']
	])('%s is shown as %s to whoever holds a link', (to, shown) => expect(hinted(to)).toBe(shown));
	test('somebody who gets a copy has no rank among those who sign, wherever they stood', () => {
		expect(
			closeRanks([
				{ ...bram, rank: 2 },
				{ ...mara, rank: 4 },
				{ ...ferrin, rank: 9 }
			]).map(({ key, rank }) => [key, rank])
		).toEqual([
			['a', 1],
			['f', 2],
			['c', 3]
		]);
	});
});

describe('mistakes in the order', () => {
	const words = (signers: Signer[], placed: string[] | null = null, of = people) =>
		orderMistakes(signers, of, placed).map((mistake) => mistake.words);
	test('a good order has none', () => expect(words([mara, tobias, ferrin, bram])).toEqual([]));
	test('we would sign first: one press puts us last', () => {
		const [mistake] = orderMistakes(
			[
				{ ...ferrin, rank: 1 },
				{ ...mara, rank: 2 }
			],
			people,
			null
		);
		expect(mistake.words).toContain('before the client');
		expect(mistake.mend!.signers.map(({ key }) => key)).toEqual(['a', 'f']);
		expect(words(mistake.mend!.signers)).toEqual([]);
	});
	test.each([
		['nobody of the client', [ferrin], null, 'Nobody of the client signs'],
		[
			'the same person twice',
			[mara, { ...tobias, who: { as: 'contact', contactId: people.contacts![0].id } } as Signer],
			null,
			'Mara Whitlock is named twice'
		],
		[
			'somebody who is gone',
			[mara, { ...tobias, who: { as: 'contact', contactId: '00000000-0000-4000-8000-000000000099' } } as Signer],
			null,
			'not belong to the client'
		],
		['somebody of ours who may not', [mara, { ...bram, does: 'signs', rank: 2 } as Signer], null, 'Bram Oxley may not sign for us'],
		['no place for one who signs', [mara, tobias], ['a'], 'no place on the pages for Tobias Quay'],
		['a place for nobody', [mara, bram], ['a', 'c'], 'belongs to nobody who signs']
	])('%s', (_, signers, placed, said) => expect(words(signers, placed).join(' ')).toContain(said));
	test('a couple that shares an address', () => {
		const shared = { ...people, contacts: [people.contacts![0], person(2, 'Tobias Quay', 'MARA@example.test')] };
		expect(words([mara, tobias], null, shared)).toEqual([expect.stringContaining('share the address mara@example.test')]);
	});
	test('a second person who is not there', () =>
		expect(words([mara, tobias], null, { ...people, contacts: [people.contacts![0]] })).toEqual([expect.stringContaining('no second person')]));
});

describe('routing', () => {
	test('every move from every state: only these five', () => {
		const allowed = SIGNER_STATES.flatMap((from) =>
			SIGNER_MOVES.flatMap((move) => (signerStateAfter(from, move) ? [`${from} ${move} ${signerStateAfter(from, move)}`] : []))
		);
		expect(allowed.sort()).toEqual([
			'asked decline declined',
			'asked replace waits',
			'asked sign signed',
			'asked stop stopped',
			'waits ask asked',
			'waits replace waits',
			'waits stop stopped'
		]);
	});
	const order = fc
		.array(fc.record({ rank: fc.integer({ min: 1, max: 4 }), side: fc.constantFrom('client' as const, 'firm' as const) }), {
			minLength: 1,
			maxLength: 7
		})
		.map((all) => all.map((one, at): Routed => ({ ...one, key: String(at), state: 'waits' })));
	test('nobody is asked before all of the ranks before have signed, and every path ends signed by all, declined or withdrawn', () => {
		fc.assert(
			fc.property(
				order,
				fc.array(fc.tuple(fc.nat(), fc.constantFrom('sign' as const, 'sign' as const, 'sign' as const, 'decline' as const, 'stop' as const)), {
					maxLength: 30
				}),
				(start, acts) => {
					let signers = start;
					const put = (key: string, move: (typeof SIGNER_MOVES)[number]) =>
						(signers = signers.map((one) => (one.key === key ? { ...one, state: signerStateAfter(one.state, move)! } : one)));
					const ask = () => {
						for (const next of whoIsNext(signers)) {
							expect(signers.every((other) => other.rank >= next.rank || other.state === 'signed')).toBe(true);
							put(next.key, 'ask');
						}
					};
					ask();
					for (const [which, move] of [...acts, ...Array.from({ length: 8 }, () => [0, 'sign'] as const)]) {
						const asked = signers.filter(({ state }) => state === 'asked');
						if (!['sent', 'signed'].includes(letterStateOf(signers))) break;
						// while it goes on, somebody is asked
						expect(asked.length).toBeGreaterThan(0);
						put(asked[which % asked.length].key, move);
						ask();
					}
					expect(['complete', 'declined', 'withdrawn']).toContain(letterStateOf(signers));
					expect(LETTER_STATES).toContain(letterStateOf(signers));
				}
			)
		);
	});
	test('waits for us alone only when the whole client has signed', () => {
		const at = (states: string) =>
			letterStateOf(
				[...states].map((state, n): Routed => ({
					key: String(n),
					rank: n,
					side: n === 2 ? 'firm' : 'client',
					state: ({ w: 'waits', a: 'asked', s: 'signed', d: 'declined' } as const)[state as 'w']!
				}))
			);
		expect([at('aww'), at('saw'), at('ssa'), at('sss'), at('sdw')]).toEqual(['sent', 'sent', 'signed', 'complete', 'declined']);
	});
});

describe('places on a page that is turned, cropped or measured in other units', () => {
	const shape = fc.record({
		x: fc.double({ min: -500, max: 500, noNaN: true }),
		y: fc.double({ min: -500, max: 500, noNaN: true }),
		width: fc.double({ min: 1, max: 3000, noNaN: true }),
		height: fc.double({ min: 1, max: 3000, noNaN: true }),
		rotate: fc.constantFrom(0 as const, 90 as const, 180 as const, 270 as const),
		unit: fc.constantFrom(1, 0.5, 2, 3.7)
	});
	test('there and back again within a hundredth of a point; inside stays inside', () => {
		fc.assert(
			fc.property(shape, fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true }), (page: PageShape, fx, fy) => {
				const size = seenSize(page);
				const seen = { x: fx * size.width, y: fy * size.height };
				const inside = toPage(page, seen);
				const back = toSeen(page, inside);
				expect(Math.hypot(back.x - seen.x, back.y - seen.y)).toBeLessThan(0.01);
				expect(inside.x).toBeGreaterThanOrEqual(page.x - 1e-6);
				expect(inside.x).toBeLessThanOrEqual(page.x + page.width + 1e-6);
				expect(inside.y).toBeGreaterThanOrEqual(page.y - 1e-6);
				expect(inside.y).toBeLessThanOrEqual(page.y + page.height + 1e-6);
				const [a, b, c, d, e, f] = uprightMatrix(page);
				const up = size.height - seen.y;
				expect(Math.hypot(a * seen.x + c * up + e - inside.x, b * seen.x + d * up + f - inside.y)).toBeLessThan(0.01);
			})
		);
	});
	test('the upper left corner of a page that is turned to the right is its lower left one', () => {
		expect(toPage({ x: 10, y: 20, width: 600, height: 800, rotate: 90, unit: 1 }, { x: 0, y: 0 })).toEqual({ x: 10, y: 20 });
		expect(toPage({ x: 10, y: 20, width: 600, height: 800, rotate: 270, unit: 1 }, { x: 0, y: 0 })).toEqual({ x: 610, y: 820 });
	});
});

const place = (more: Partial<Place>): Place => ({
	id: Math.random().toString(36),
	document: 0,
	page: 1,
	x: 10,
	y: 10,
	width: 100,
	height: 20,
	kind: 'text',
	of: 'a',
	label: '',
	required: true,
	help: '',
	choices: [],
	onlyIf: null,
	...more
});

describe('what a signer fills in', () => {
	const places = [
		place({ kind: 'signature', y: 500 }),
		place({ label: 'Company', y: 100 }),
		place({ label: 'Company', page: 2 }),
		place({ kind: 'tick', label: 'married', required: false, y: 200 }),
		place({ label: 'Name of spouse', onlyIf: 'married', y: 250 }),
		place({ kind: 'number', label: 'Shares', of: 'b' })
	];
	test('each label once, in the order in which it is read, and only their own', () => {
		expect(fieldsOf(places, 'a').map(({ label }) => label)).toEqual(['Company', 'married', 'Name of spouse']);
		expect(fieldsOf(places, 'b').map(({ label }) => label)).toEqual(['Shares']);
	});
	test('what depends on a tick is asked only with it, and not kept without it', () => {
		const fields = fieldsOf(places, 'a');
		expect(leftOf(fields, {}).map(({ label }) => label)).toEqual(['Company']);
		expect(leftOf(fields, { Company: 'Gull', married: TICKED }).map(({ label }) => label)).toEqual(['Name of spouse']);
		expect(keptValues(fields, { Company: ' Gull ', 'Name of spouse': 'Tobias', Other: 'x' })).toEqual({ Company: 'Gull' });
		expect(applies(places[4], { married: TICKED })).toBe(true);
	});
	test.each([
		['12', null],
		['1,200.50', null],
		['1 200,5', null],
		['twelve', 'wrong.place.number'],
		['1e9', 'wrong.place.number'],
		['', null]
	])('number %j', (value, wrong) => expect(wrongValue(fieldsOf(places, 'b')[0], value)).toBe(wrong));
	test('a choice that was not offered, and too many words', () => {
		const [choice] = fieldsOf([place({ kind: 'choice', label: 'How', choices: ['Monthly', 'Yearly'] })], 'a');
		expect([wrongValue(choice, 'Weekly'), wrongValue(choice, 'Monthly'), wrongValue(fieldsOf(places, 'a')[0], 'x'.repeat(401))]).toEqual([
			'wrong.place.choice',
			null,
			'wrong.place.long'
		]);
	});
	test('what lacks before it goes is said', () => {
		expect(placesMissing(places)).toBeNull();
		expect(placesMissing([place({})])).toContain('does not say what is asked');
		expect(placesMissing([place({ kind: 'choice', label: 'How', choices: ['One'] })])).toContain('at least two');
		expect(placesMissing([place({ label: 'X', onlyIf: 'no such' })])).toContain('no such tick');
		expect(placesMissing([place({ label: 'X' }), place({ label: 'X', kind: 'number' })])).toContain('once a text and once a number');
		const twoAccounts = [place({ kind: 'account', label: 'IBAN' }), place({ kind: 'account', label: 'Account' })];
		expect(placesMissing(twoAccounts)).toContain('one account is asked');
		expect(placesMissing([twoAccounts[0], { ...twoAccounts[1], of: 'b' }])).toBeNull();
		const ofUs = letter.missing({
			title: 'Mandate',
			why: undefined,
			attachments: [],
			spec: {
				signing: {
					documents: [{ id: '00000000-0000-4000-8000-000000000009', name: 'Mandate.pdf', pages: [{ width: 612, height: 792 }] }],
					signers: usualSigners(),
					places: [{ ...twoAccounts[0], of: usualSigners()[1].key }]
				}
			}
		});
		expect(ofUs?.message).toContain('somebody of the firm for a bank account');
	});
	test('initials', () =>
		expect([initialsOf('Mara Whitlock'), initialsOf(' anne-marie  van dyke '), initialsOf('Ödön')]).toEqual(['MW', 'AMVD', 'Ö']));
	test('places of a form are bounded', () => expect(placesSchema.safeParse([{ ...place({}), x: -1 }]).success).toBe(false));
});

describe('places found in the text', () => {
	const run = (text: string, x: number, y: number) => ({ text, x, y, width: text.length * 5, height: 10 });
	const page = (...runs: ReturnType<typeof run>[]) => ({ width: 595, height: 842, runs });
	test('lines to write on, called by the words before or under them', () => {
		const found = findPlaces(
			page(
				run('Signature: ____________________', 60, 600),
				run('Date: __________', 350, 600),
				run('______________________________', 60, 680),
				run('Print name', 60, 692)
			),
			1
		);
		expect(found.map(({ kind }) => kind)).toEqual(['signature', 'date', 'name']);
		// it begins where its line does, and stands on it
		expect(Math.abs(found[0].x - (60 + 11 * 5))).toBeLessThan(3);
		expect(found[0].y + found[0].height).toBeCloseTo(603, 0);
	});
	test('in French, and with what is asked as a label', () => {
		const found = findPlaces(
			page(run('Nom : ______________', 60, 500), run('Fait le : ______________', 60, 540), run('Numéro de TVA : ______________', 60, 580)),
			3
		);
		expect(found.map(({ kind, label, page }) => [kind, label, page])).toEqual([
			['name', '', 3],
			['date', '', 3],
			['text', 'Numéro de TVA', 3]
		]);
	});
	test('a word that asks with room behind it, but none in a sentence', () => {
		expect(findPlaces(page(run('Signature:', 60, 500)), 1)).toMatchObject([{ kind: 'signature', x: 116 }]);
		expect(findPlaces(page(run('Your signature confirms the date of the agreement and its name.', 60, 500)), 1)).toEqual([]);
		expect(findPlaces(page(run('See section 4 ... for dates', 60, 500)), 1)).toEqual([]);
	});
	test('kinds by their words', () => {
		expect(['Sign here', 'Paraphe', 'E-mail', 'Company', 'Courriel', 'Print name:', 'Date signed', 'Title:', 'Fonction'].map(kindOfLabel)).toEqual([
			'signature',
			'initials',
			'email',
			null,
			'email',
			'name',
			'date',
			'title',
			'title'
		]);
		// asked of whoever signs, not filled in with what is known of them
		expect(['Date of birth', 'Name of the bank', 'Accountant’s e-mail', 'Title of the property'].map(kindOfLabel)).toEqual([null, null, null, null]);
	});
	test('what stands around the first signature is the first signer’s, around the second the second’s', () => {
		const at = (kind: Place['kind'], y: number, x = 60) => ({ document: 0, page: 1, x, y, width: 100, height: 20, kind });
		expect(partiesOf([at('signature', 300), at('date', 300, 350), at('signature', 500), at('date', 500, 350), at('name', 530)], 2)).toEqual([
			0, 0, 1, 1, 1
		]);
		expect(partiesOf([at('signature', 300), at('signature', 500)], 1)).toEqual([0, 0]);
		expect(partiesOf([at('text', 300)], 2)).toEqual([0]);
	});
});
