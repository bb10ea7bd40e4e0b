/**
 * Where a letter stands: it waits for somebody of the client, for the firm alone, or to be sealed, since all have signed; then it is sealed.
 * Until all have signed it can be declined or withdrawn. `letterStateOf` says which, by where its signers stand.
 */
export const LETTER_STATES = ['sent', 'signed', 'complete', 'sealed', 'declined', 'withdrawn'] as const;
export type LetterState = (typeof LETTER_STATES)[number];

/** Somebody can still sign it, or it waits for its seal. */
export const LETTER_OPEN: readonly LetterState[] = ['sent', 'signed'];
