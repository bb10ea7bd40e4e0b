export const CLIENT_STATES = ['active', 'locked', 'ended'] as const;
export type ClientState = (typeof CLIENT_STATES)[number];
export const CLIENT_MOVES = ['lock', 'unlock', 'end', 'reopen'] as const;
export type ClientMove = (typeof CLIENT_MOVES)[number];

/**
 * Every allowed move of a client. Locked: nothing new is asked and nobody is chased, until it is unlocked. Ended: the
 * firm no longer works for them; what was handed in can still be read.
 */
export const CLIENT_TRANSITIONS: readonly { from: ClientState; move: ClientMove; to: ClientState }[] = [
	{ from: 'active', move: 'lock', to: 'locked' },
	{ from: 'active', move: 'end', to: 'ended' },
	{ from: 'locked', move: 'unlock', to: 'active' },
	{ from: 'locked', move: 'end', to: 'ended' },
	{ from: 'ended', move: 'reopen', to: 'active' }
];

/** The state after a move, or null if it is not allowed from here. */
export function clientStateAfter(state: ClientState, move: ClientMove): ClientState | null {
	return CLIENT_TRANSITIONS.find((t) => t.from === state && t.move === move)?.to ?? null;
}

/** What can be done with a client in a state. */
export function clientMovesFrom(state: ClientState): ClientMove[] {
	return CLIENT_TRANSITIONS.filter((t) => t.from === state).map((t) => t.move);
}
