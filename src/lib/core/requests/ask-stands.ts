import { SHEET_PROBLEMS, type SheetProblem } from './ask-sheet';
import type { NotAsked } from './who-may-be-asked';

/** Why no request can go to a client, or none can be made of a row of a file. */
export type AskStands = NotAsked | 'no_contact' | 'asked_already' | SheetProblem;

const WORDS: Record<AskStands, string> = {
	...SHEET_PROBLEMS,
	no_contact: 'has nobody to ask yet',
	no_address: 'no e-mail address yet',
	bounced: 'mail came back',
	suspended: 'whom to ask is suspended',
	asked_already: 'was asked by this list before'
};

/** Why nothing goes to a client or of a row, in a few words; null where something goes. */
export function staysWords(row: { stands: AskStands | null; goes: number }): string | null {
	if (row.stands) return WORDS[row.stands];
	return row.goes === 0 ? 'nothing of it fits' : null;
}
