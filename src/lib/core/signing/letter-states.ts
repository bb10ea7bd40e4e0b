/**
 * Where a letter stands: it waits for somebody of the client, for the firm alone, or to be sealed, since all have signed; then it is sealed.
 * Until all have signed it can be declined or withdrawn, and it lapses where somebody of the client has not signed by its last day. `letterStateOf` says which, by where its signers stand.
 */
export const LETTER_STATES = ['sent', 'signed', 'complete', 'sealed', 'declined', 'withdrawn', 'lapsed'] as const;
export type LetterState = (typeof LETTER_STATES)[number];

/** Somebody can still sign it, or it waits for its seal. */
export const LETTER_OPEN: readonly LetterState[] = ['sent', 'signed'];

/** Nobody can sign it any more, and it is not signed. */
export const LETTER_STOPPED: readonly LetterState[] = ['declined', 'withdrawn', 'lapsed'];

/** How many days before a letter lapses whoever has not signed is told. */
export const LAPSE_NOTICE_DAYS = 3;
/** The fewest and the most days for which a letter can be signed, where it says so at all. */
export const LAPSE_DAYS = { least: 5, most: 365 };
