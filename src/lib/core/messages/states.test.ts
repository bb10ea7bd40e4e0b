import { expect, test } from 'vitest';
import { eventSentence } from '../audit/event-words';
import { invitationExpiry, invitationStateAt } from '../invitations/invitation-states';
import { mayMessageMove, MESSAGE_STATES, messageStatesBefore } from './message-states';

test('a message moves only where the table says: every pair', () => {
	const allowed = [
		'planned sending',
		'planned held_back',
		'sending sent',
		'sending planned',
		'sending failed',
		'sending unclear',
		'sent failed',
		'unclear sent',
		'unclear failed'
	];
	for (const from of MESSAGE_STATES)
		for (const to of MESSAGE_STATES) {
			expect(mayMessageMove(from, to), `${from} ${to}`).toBe(allowed.includes(`${from} ${to}`));
			expect(messageStatesBefore(to).includes(from), `${from} ${to}`).toBe(allowed.includes(`${from} ${to}`));
		}
});

test('nothing that was begun is ever planned anew except by its own sender, and unclear is never sent again', () => {
	expect(mayMessageMove('unclear', 'planned')).toBe(false);
	expect(mayMessageMove('unclear', 'sending')).toBe(false);
	expect(mayMessageMove('sent', 'sending')).toBe(false);
});

test('an invitation lasts 14 days to the second, across a daylight-saving change', () => {
	const expiresAt = invitationExpiry('2026-03-01T12:00:00Z');
	expect(expiresAt).toBe('2026-03-15T12:00:00Z');
	const invitation = { expiresAt, takenUpAt: null, withdrawnAt: null, replacedAt: null };
	expect(invitationStateAt(invitation, '2026-03-15T11:59:59Z')).toBe('sent');
	expect(invitationStateAt(invitation, '2026-03-15T12:00:00Z')).toBe('expired');
	expect(invitationStateAt({ ...invitation, withdrawnAt: '2026-03-02T12:00:00Z' }, '2026-03-03T12:00:00Z')).toBe('withdrawn');
	expect(invitationStateAt({ ...invitation, takenUpAt: '2026-03-02T12:00:00Z' }, '2026-04-03T12:00:00Z')).toBe('taken_up');
});

test('history is read as sentences; unknown verbs and missing details do no harm', () => {
	expect(eventSentence('item_sent_back', { title: 'Lease', reason: 'page 2' })).toBe('sent “Lease” back: “page 2”');
	expect(eventSentence('item_accepted', {})).toBe('accepted “…”');
	expect(eventSentence('something_new', {})).toBe('something new');
});
