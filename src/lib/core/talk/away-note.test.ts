import { expect, test } from 'vitest';
import { isAutomatic, readAwayNote } from './away-note';
import { AUTOMATIC, ANSWERS } from './corpus';

const PERSON = { returnPath: 'mara@gullstring.example', autoSubmitted: '', precedence: '', outOfOffice: false, hops: 3, authentication: '' };

test.each(AUTOMATIC)('$subject: $text', ({ subject, text, backOn }) => {
	const note = readAwayNote(subject, text, '2026-05-04');
	expect(note === null ? undefined : note.backOn).toBe(backOn);
});
test.each([
	['no return path', { returnPath: '' }, '', true],
	['what RFC 3834 asks for', { autoSubmitted: 'auto-replied' }, '', true],
	['an older header', { outOfOffice: true }, '', true],
	['a precedence that some programs write', { precedence: 'auto_reply' }, '', true],
	['a subject alone', {}, 'Réponse automatique : Encore à faire', true],
	['a person', {}, 'Re: Still open', false],
	['a person who writes about a reply', {}, 'Re: Your automatic reply', false]
])('%s', (_, head, subject, automatic) => expect(isAutomatic({ ...PERSON, ...head }, subject)).toBe(automatic));
test('of all invented mails none of a person’s says that they are away', () => {
	for (const { text } of ANSWERS) expect(readAwayNote('Re: Still open', text, '2026-05-04')).toBeNull();
});
test('a weekday is the next one, over a change of the clock and a turn of the year', () => {
	expect(readAwayNote('Out of office', 'Away, back on Monday.', '2026-10-30')?.backOn).toBe('2026-11-02');
	expect(readAwayNote('Out of office', 'Away until 2 January.', '2026-12-28')?.backOn).toBe('2027-01-03');
});
