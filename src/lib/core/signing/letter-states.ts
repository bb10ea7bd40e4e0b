export const LETTER_STATES = ['sent', 'signed', 'sealed', 'declined', 'withdrawn'] as const;
export type LetterState = (typeof LETTER_STATES)[number];

export type LetterMove = 'sign' | 'countersign' | 'decline' | 'withdraw';

/** A letter is signed by the client, then countersigned by the firm, which seals it. */
export const LETTER_TRANSITIONS: readonly { move: LetterMove; from: LetterState; to: LetterState }[] = [
	{ move: 'sign', from: 'sent', to: 'signed' },
	{ move: 'countersign', from: 'signed', to: 'sealed' },
	{ move: 'decline', from: 'sent', to: 'declined' },
	{ move: 'withdraw', from: 'sent', to: 'withdrawn' },
	{ move: 'withdraw', from: 'signed', to: 'withdrawn' }
];

export function letterStateAfter(from: LetterState, move: LetterMove): LetterState | null {
	return LETTER_TRANSITIONS.find((t) => t.from === from && t.move === move)?.to ?? null;
}

/** The states from which a move can be made: what a statement that moves letters asks for. */
export function letterStatesBefore(move: LetterMove): LetterState[] {
	return LETTER_TRANSITIONS.filter((t) => t.move === move).map((t) => t.from);
}
