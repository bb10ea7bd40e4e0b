import { describe, expect, test } from 'vitest';
import { isOpen, ITEM_STATES } from './item-states';
import {
	draftsActInWords,
	ITEM_ACTS,
	itemsActInWords,
	itemsActSchema,
	MANY_MOST,
	whyNotInState,
	type DraftOutcome,
	type ManyEffects,
	type ManyOutcome
} from './many-acts';

const none: ManyEffects = { thanks: 0, withdrawn: 0, unsent: 0 };
const outcome = (more: Partial<ManyOutcome> = {}): ManyOutcome => ({
	clientId: 'kites',
	contactName: 'Mara',
	problem: null,
	dueBefore: '2026-05-06',
	dueAfter: '2026-05-20',
	chaseBefore: '2026-05-04',
	chaseAfter: '2026-05-18',
	canBeTakenBack: true,
	...more
});
const oysters = outcome({ clientId: 'oysters', contactName: 'Ines', dueBefore: '2026-05-12', chaseAfter: '2026-05-15' });
const say = (
	act: Parameters<typeof itemsActInWords>[0],
	outcomes: ManyOutcome[],
	effects: Partial<ManyEffects> = {},
	planName: string | null = null
) => itemsActInWords(act, outcomes, { dueOn: '2026-05-20', planName }, { ...none, ...effects }, (date) => date);

describe('what will happen with many lines', () => {
	test.each<[string, string[], string[]]>([
		[
			'several dates are told as a span, the earliest reminder, and to whom',
			say('extend', [outcome(), oysters]),
			[
				'2 lines of 2 clients are due on 2026-05-20, instead of between 2026-05-06 and 2026-05-12.',
				'The next reminder goes on 2026-05-15, to Mara and Ines.'
			]
		],
		[
			'one that had no date, and gets no reminder',
			say('extend', [outcome({ dueBefore: null, chaseAfter: null })]),
			['One line of one client is due on 2026-05-20.']
		],
		[
			'some have no reminder left',
			say('extend', [outcome(), outcome({ chaseAfter: null }), outcome({ chaseAfter: null })]),
			[
				'3 lines of one client are due on 2026-05-20, not 2026-05-06.',
				'The next reminder goes on 2026-05-18, to Mara.',
				'2 of them have no reminder left.'
			]
		],
		[
			'a plan without reminders',
			say('plan', [outcome({ chaseAfter: null })], {}, 'No reminders'),
			['Nobody is reminded of one line of one client any more.']
		],
		[
			'another plan',
			say('plan', [outcome(), oysters], {}, 'Often'),
			['2 lines of 2 clients are reminded of by “Often” from now on.', 'The next reminder goes on 2026-05-15, to Mara and Ines.']
		],
		[
			'many people are named in part',
			say(
				'person',
				['Mara', 'Ines', 'Jonas', 'Ada', 'Mara'].map((contactName) => outcome({ contactName, chaseAfter: null }))
			),
			['5 lines of one client are asked of Mara, Ines and 2 others from now on.']
		],
		[
			'what was chased is not any more',
			say('waive', [outcome(), outcome({ chaseBefore: null })]),
			['2 lines of one client are not asked for any more.', 'The reminders of one of them do not go.']
		],
		[
			'requests that end, and messages that stay',
			say('withdraw', [outcome()], { withdrawn: 1, unsent: 2 }),
			[
				'One line of one client is not asked for any more.',
				'The reminders of it do not go.',
				'One request is withdrawn as a whole.',
				'2 messages that have not left yet will not.'
			]
		],
		[
			'only what can be done is told',
			say('accept', [outcome(), outcome({ problem: 'It is waived already.' })]),
			['One line of one client is accepted.']
		]
	])('%s', (_what, words, expected) => {
		expect(words.slice(0, -2)).toEqual(expected);
		expect(words.slice(-2)).toEqual(['No message goes out by this.', 'It can be taken back.']);
	});
	test('thanks that go, and what cannot be taken back', () => {
		const letter = outcome({ canBeTakenBack: false });
		expect(say('accept', [outcome(), letter], { thanks: 1 }).slice(-2)).toEqual([
			'One request is finished by it, and your thanks go out.',
			'It can be taken back, but for one letter.'
		]);
		expect(say('waive', [letter]).at(-1)).toBe('It cannot be taken back.');
		expect(say('waive', [outcome({ problem: 'no' })])).toEqual([]);
	});
});

test('drafts: who gets them, who is told, and that sending is for good', () => {
	const draft = (more: Partial<DraftOutcome> = {}): DraftOutcome => ({
		contactName: 'Mara',
		lines: 3,
		quiet: false,
		invited: false,
		later: false,
		problem: null,
		...more
	});
	const words = (act: Parameters<typeof draftsActInWords>[0], of: DraftOutcome[]) =>
		draftsActInWords(act, of, { dueOn: '2026-05-20', planName: 'Often' }, (date) => date);
	expect(words('send', [draft(), draft({ contactName: 'Ines', invited: true }), draft({ problem: 'no' })])).toEqual([
		'2 requests with 6 lines go to Mara and Ines.',
		'Each person gets one message about everything that is asked of them today.',
		'One of them invites somebody who has no access yet.',
		'What was sent can be withdrawn, and not be unsent.'
	]);
	expect(words('send', [draft({ later: true }), draft({ contactName: 'Ines', later: true })])).toContain(
		'Mara and Ines were told of something today already, and hear of this tomorrow.'
	);
	expect(words('send', [draft({ quiet: true, invited: true })])).toEqual([
		'One request with 3 lines goes to Mara.',
		'One is put up quietly: nobody is told.',
		'It can be taken back until they are told.'
	]);
	expect(words('send', [draft(), draft({ later: true })]).at(-1)).toBe(
		'What nobody is told of yet can be taken back; the rest can be withdrawn, and not be unsent.'
	);
	expect(words('plan', [draft()])[0]).toBe('3 lines of one draft are reminded of by “Often”.');
	expect(words('person', [draft(), draft()])[0]).toBe('2 drafts go to Mara.');
	expect(words('remove', [draft({ lines: 1 })])).toEqual(['One draft with one line is thrown away.', 'It can be taken back.']);
	expect(words('send', [draft({ problem: 'no' })])).toEqual([]);
});

test('nothing, and too much, is refused in words', () => {
	const of = (n: number) =>
		itemsActSchema.safeParse({ act: 'waive', items: Array.from({ length: n }, () => ({ id: crypto.randomUUID(), version: 1 })) });
	expect(of(0).error!.issues[0].message).toContain('at least one');
	expect(of(MANY_MOST).success).toBe(true);
	expect(of(MANY_MOST + 1).error!.issues[0].message).toContain('two goes');
});

test('in each state an act is refused for the reason of that state', () => {
	const refused = Object.fromEntries(ITEM_ACTS.map((act) => [act, ITEM_STATES.filter((state) => whyNotInState(act, state) !== null)]));
	const closed = ITEM_STATES.filter((state) => !isOpen(state));
	expect(refused).toEqual({
		extend: closed,
		plan: closed,
		person: closed,
		accept: [],
		waive: ['drafted', 'accepted', 'waived'],
		withdraw: ['drafted', 'accepted', 'waived']
	});
	expect(whyNotInState('extend', 'accepted')).toBe('It is accepted: there is nothing to wait for.');
	expect(whyNotInState('waive', 'waived')).toBe('It is waived already.');
});
