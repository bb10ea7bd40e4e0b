import type { LetterState } from './letter-states';

export const SIGNER_STATES = ['waits', 'asked', 'signed', 'declined', 'stopped'] as const;
export type SignerState = (typeof SIGNER_STATES)[number];
export const SIGNER_MOVES = ['ask', 'sign', 'decline', 'stop', 'replace'] as const;
export type SignerMove = (typeof SIGNER_MOVES)[number];

/** Every allowed move of a signer. What is not here is refused. */
export const SIGNER_TRANSITIONS: readonly { move: SignerMove; from: SignerState; to: SignerState }[] = [
	{ move: 'ask', from: 'waits', to: 'asked' },
	{ move: 'sign', from: 'asked', to: 'signed' },
	{ move: 'decline', from: 'asked', to: 'declined' },
	{ move: 'stop', from: 'waits', to: 'stopped' },
	{ move: 'stop', from: 'asked', to: 'stopped' },
	// somebody else stands in their place, and is asked when it is their turn
	{ move: 'replace', from: 'waits', to: 'waits' },
	{ move: 'replace', from: 'asked', to: 'waits' }
];

/** The state a move leads to, or null if it is not allowed. */
export function signerStateAfter(from: SignerState, move: SignerMove): SignerState | null {
	return SIGNER_TRANSITIONS.find((rule) => rule.from === from && rule.move === move)?.to ?? null;
}

/** A signer as the routing sees it. Somebody who gets a copy is none. */
export interface Routed {
	key: string;
	rank: number;
	side: 'client' | 'firm';
	state: SignerState;
}

/** Who is asked now: those of the lowest rank in which somebody has not signed, who were not asked yet; nobody once one has declined. */
export function whoIsNext<One extends Routed>(signers: readonly One[]): One[] {
	if (signers.some(({ state }) => state === 'declined' || state === 'stopped')) return [];
	const open = signers.filter(({ state }) => state !== 'signed');
	const rank = Math.min(...open.map((signer) => signer.rank));
	return open.filter((signer) => signer.rank === rank && signer.state === 'waits');
}

/**
 * Where a letter stands by where its signers stand, until it is sealed: declined by one of them, withdrawn, signed by all, waiting for the
 * firm alone, or for somebody of the client.
 */
export function letterStateOf(signers: readonly Routed[]): Exclude<LetterState, 'sealed' | 'lapsed'> {
	if (signers.some(({ state }) => state === 'declined')) return 'declined';
	if (signers.some(({ state }) => state === 'stopped')) return 'withdrawn';
	const open = signers.filter(({ state }) => state !== 'signed');
	if (open.length === 0) return 'complete';
	return open.every(({ side }) => side === 'firm') ? 'signed' : 'sent';
}
