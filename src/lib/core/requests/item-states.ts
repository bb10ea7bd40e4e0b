/** Who makes a move: a person of the firm, the client's contact, or the product by itself. */
export type Mover = 'firm' | 'contact' | 'machine';

export const ITEM_STATES = [
	'drafted',
	'asked',
	'seen',
	'started',
	'handed_in',
	'accepted',
	'sent_back',
	'waived',
	'answered_no',
	'declined'
] as const;
export type ItemState = (typeof ITEM_STATES)[number];

export const ITEM_MOVES = [
	'send',
	'see',
	'start',
	'hand_in',
	'fill_in',
	'file',
	'unfile',
	'say_no',
	'decline',
	'lapse',
	'accept',
	'send_back',
	'waive',
	'reopen',
	'take_back',
	'go_on'
] as const;
export type ItemMove = (typeof ITEM_MOVES)[number];

/** Every allowed move of an item: from which state, by whom, to which state. What is not here is refused. */
export const ITEM_TRANSITIONS: readonly {
	move: ItemMove;
	by: readonly Mover[];
	from: readonly ItemState[];
	to: ItemState;
}[] = [
	{ move: 'send', by: ['firm'], from: ['drafted'], to: 'asked' },
	{ move: 'see', by: ['contact'], from: ['asked'], to: 'seen' },
	{ move: 'start', by: ['contact'], from: ['asked', 'seen'], to: 'started' },
	{
		move: 'hand_in',
		by: ['contact'],
		from: ['asked', 'seen', 'started', 'sent_back', 'answered_no'],
		to: 'handed_in'
	},
	// somebody of the firm writes down what the client says by phone
	{ move: 'fill_in', by: ['firm'], from: ['asked', 'seen', 'started', 'sent_back', 'answered_no'], to: 'handed_in' },
	// a file that came by itself is what was asked for; taken out again it is asked as before
	{ move: 'file', by: ['firm', 'machine'], from: ['asked', 'seen', 'started', 'sent_back'], to: 'handed_in' },
	{ move: 'unfile', by: ['firm'], from: ['handed_in', 'accepted'], to: 'asked' },
	{
		move: 'say_no',
		by: ['contact'],
		from: ['asked', 'seen', 'started', 'sent_back'],
		to: 'answered_no'
	},
	{ move: 'decline', by: ['contact'], from: ['asked', 'seen', 'started'], to: 'declined' },
	// nobody signed it while it could be signed
	{ move: 'lapse', by: ['machine'], from: ['asked', 'seen', 'started'], to: 'declined' },
	{ move: 'accept', by: ['firm', 'machine'], from: ['handed_in'], to: 'accepted' },
	{ move: 'send_back', by: ['firm'], from: ['handed_in', 'answered_no'], to: 'sent_back' },
	// the product by itself: somebody else declined what several were to sign
	{
		move: 'waive',
		by: ['firm', 'machine'],
		from: ['asked', 'seen', 'started', 'handed_in', 'sent_back', 'answered_no', 'declined'],
		to: 'waived'
	},
	{ move: 'reopen', by: ['firm'], from: ['accepted', 'waived', 'declined'], to: 'asked' },
	// what a client asked for by themselves, before it was handed in
	{ move: 'take_back', by: ['contact'], from: ['asked', 'seen', 'started'], to: 'waived' },
	// they have something to add or to put right before anybody has looked
	{ move: 'go_on', by: ['contact'], from: ['handed_in'], to: 'started' }
];

/** The state a move leads to, or null if it is not allowed from here by this mover. */
export function itemStateAfter(from: ItemState, move: ItemMove, by: Mover): ItemState | null {
	const rule = ITEM_TRANSITIONS.find((t) => t.move === move && t.from.includes(from) && t.by.includes(by));
	return rule?.to ?? null;
}

/** The moves somebody may make from a state, in the order of the table. */
export function itemMovesFrom(from: ItemState, by: Mover): ItemMove[] {
	return ITEM_TRANSITIONS.filter((t) => t.from.includes(from) && t.by.includes(by)).map((t) => t.move);
}

/** Where an item may be brought back to when the firm takes back that it was accepted or waived: there it was before. */
const RESTORES: Partial<Record<ItemState, readonly ItemState[]>> = {
	accepted: ['handed_in'],
	waived: ['asked', 'seen', 'started', 'sent_back', 'handed_in', 'answered_no']
};

/** Whether taking back leads from one state to another. */
export function mayRestore(from: ItemState, to: ItemState): boolean {
	return RESTORES[from]?.includes(to) ?? false;
}

/** Who has something to do: the client (only then is anybody chased), the firm, or nobody any more. */
export type ItemPhase = 'not_sent' | 'open' | 'to_look_at' | 'settled';

/** The phase of each state. SQL asks the column `item.phase`, which the database works out by the same table. */
export const ITEM_PHASES: Readonly<Record<ItemState, ItemPhase>> = {
	drafted: 'not_sent',
	asked: 'open',
	seen: 'open',
	started: 'open',
	sent_back: 'open',
	handed_in: 'to_look_at',
	answered_no: 'to_look_at',
	declined: 'to_look_at',
	accepted: 'settled',
	waived: 'settled'
};

export const isOpen = (state: ItemState): boolean => ITEM_PHASES[state] === 'open';
export const isSettled = (state: ItemState): boolean => ITEM_PHASES[state] === 'settled';

/** A request is finished when every required item is accepted or waived; an empty one is not. */
export function isFinished(items: readonly { state: ItemState; required: boolean }[]): boolean {
	return items.length > 0 && items.every((item) => !item.required || isSettled(item.state));
}

/** The states as the firm's people read them, after "is". */
export const ITEM_STATE_WORDS: Record<ItemState, string> = {
	drafted: 'not sent yet',
	asked: 'asked, not opened yet',
	seen: 'opened by the client',
	started: 'begun by the client',
	handed_in: 'handed in',
	accepted: 'accepted',
	sent_back: 'sent back',
	waived: 'waived',
	answered_no: 'said not to apply',
	declined: 'declined'
};

/** The same in one or two words, for narrow columns. */
export const ITEM_STATE_SHORT: Record<ItemState, string> = {
	drafted: 'not sent',
	asked: 'asked',
	seen: 'opened',
	started: 'begun',
	handed_in: 'handed in',
	accepted: 'accepted',
	sent_back: 'sent back',
	waived: 'waived',
	answered_no: 'says no',
	declined: 'declined'
};
