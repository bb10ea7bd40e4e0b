/** What becomes of the rows that name a client or a person. */
export interface Owned {
	/** when two are merged: the rows move to the one that is kept, `mergeClients` or `mergeContacts` see to them, or why they stay */
	merging: 'move' | 'seen to' | { stay: string };
	/** when everything of a client is handed out: it is part of it, or why not */
	handedOut: 'part' | { not: string };
}

const SIGN_IN: Owned = { merging: { stay: 'the way in of the one that goes ends' }, handedOut: { not: 'how somebody signs in' } };
const MOVES: Owned = { merging: 'move', handedOut: 'part' };
const HOLDS: Owned = { merging: { stay: 'what holds the reminders of the one that goes ends with it' }, handedOut: { not: 'when the firm reminds' } };
const CALLS: Owned = { merging: { stay: 'a call that waits ends with the one that goes' }, handedOut: { not: 'the firm’s own work' } };
const SEEN_TO: Owned = { merging: 'seen to', handedOut: 'part' };

/**
 * Every column that refers to a client, by table. A test compares both lists with the database, so that a table that is added is thought
 * of. Row-level security and the clearing of practice workspaces have tests of their own.
 */
export const OF_CLIENT: Readonly<Record<string, Owned>> = {
	'account.client_id': MOVES,
	'answer_passed.client_id': MOVES,
	'chase_call.client_id': CALLS,
	'chase_hold.client_id': HOLDS,
	'client_contact.client_id': SEEN_TO,
	'client_import_trace.client_id': { merging: { stay: 'undoing an import finds what it made' }, handedOut: { not: 'of the import' } },
	'client_look.client_id': { merging: 'seen to', handedOut: { not: 'who of the firm looked when' } },
	'client_note.client_id': { merging: 'move', handedOut: { not: 'the firm’s own notes' } },
	'client_summary.client_id': { merging: 'seen to', handedOut: { not: 'counted from the rest' } },
	'client_right.client_id': { merging: { stay: 'a client that is closed to some is not merged' }, handedOut: { not: 'of the firm’s people' } },
	'engagement.client_id': MOVES,
	'engagement_service.client_id': SEEN_TO,
	'event.client_id': { merging: { stay: 'the history of both is read together' }, handedOut: 'part' },
	'fact.client_id': SEEN_TO,
	'filing_rule.client_id': { merging: 'move', handedOut: { not: 'how the firm files' } },
	'folder.client_id': MOVES,
	'folder_contact.client_id': SEEN_TO,
	'incoming_mail.client_id': MOVES,
	'invitation.client_id': MOVES,
	'item.client_id': MOVES,
	'remark.client_id': MOVES,
	'item_secret.client_id': { merging: 'move', handedOut: { not: 'secret, and soon gone' } },
	'legal_hold.client_id': { merging: 'move', handedOut: { not: 'why the firm keeps what it keeps' } },
	'letter.client_id': MOVES,
	'letter_signer.client_id': MOVES,
	'outside_signer.client_id': MOVES,
	'line_paper.client_id': { merging: 'move', handedOut: { not: 'the firm’s own bookkeeping' } },
	'list_override.client_id': { merging: 'seen to', handedOut: { not: 'the firm’s own decisions' } },
	'message.client_id': MOVES,
	'paper.client_id': MOVES,
	'payment_authorisation.client_id': { merging: 'move', handedOut: { not: 'secret, and for whoever collects fees' } },
	'public_answer.client_id': { merging: 'move', handedOut: { not: 'it became an item of the client' } },
	'request.client_id': MOVES,
	'request_draft.client_id': { merging: 'move', handedOut: { not: 'never left the firm' } },
	'signature.client_id': MOVES,
	'signed_answers.client_id': MOVES,
	'recurring_request.client_id': MOVES,
	'staff_told_client.client_id': {
		merging: { stay: 'whoever is told of the one that is kept stays so' },
		handedOut: { not: 'of the firm’s people' }
	},
	'statement.client_id': MOVES,
	'task.client_id': { merging: 'move', handedOut: { not: 'the firm’s own work' } },
	'transaction_file.client_id': MOVES,
	'transaction_line.client_id': MOVES
};

/** The same for every column that refers to a person of a client. */
export const OF_CONTACT: Readonly<Record<string, Owned>> = {
	'answer_passed.by_contact_id': MOVES,
	'answer_passed.to_contact_id': MOVES,
	'authenticator.contact_id': SIGN_IN,
	'chase_call.contact_id': CALLS,
	'chase_change.contact_id': HOLDS,
	'chase_hold.contact_id': HOLDS,
	'client_contact.contact_id': SEEN_TO,
	'client_note.with_contact_id': { merging: 'move', handedOut: { not: 'the firm’s own notes' } },
	'contact_heard.contact_id': { merging: { stay: 'the next thing that is heard counts again' }, handedOut: { not: 'when the firm reminds' } },
	'client_import_trace.contact_id': { merging: { stay: 'undoing an import finds what it made' }, handedOut: { not: 'of the import' } },
	'device.contact_id': SIGN_IN,
	'told_device.contact_id': SIGN_IN,
	'event.contact_id': { merging: { stay: 'what was done stays with who did it' }, handedOut: 'part' },
	'incoming_mail.contact_id': MOVES,
	'incoming_text.contact_id': MOVES,
	'filing_rule.contact_id': { merging: 'move', handedOut: { not: 'how the firm files' } },
	'folder_contact.contact_id': { merging: 'seen to', handedOut: { not: 'of the client’s people' } },
	'invitation.contact_id': MOVES,
	'item.contact_id': MOVES,
	'remark.contact_id': MOVES,
	'remark.with_contact_id': MOVES,
	'item_secret.given_by_id': { merging: 'move', handedOut: { not: 'secret, and soon gone' } },
	'letter_signer.contact_id': MOVES,
	'outside_signer.contact_id': MOVES,
	'message.contact_id': MOVES,
	'paper.uploaded_by_contact_id': MOVES,
	'payment_authorisation.contact_id': { merging: 'move', handedOut: { not: 'secret, and for whoever collects fees' } },
	'paper_announcement.contact_id': { merging: 'seen to', handedOut: { not: 'the messages say it' } },
	'passkey.contact_id': SIGN_IN,
	'password_reset.contact_id': SIGN_IN,
	'portal_look.contact_id': { merging: { stay: 'says as whom somebody of the firm looked' }, handedOut: { not: 'of the firm’s people' } },
	'recovery_code.contact_id': SIGN_IN,
	'request.contact_id': MOVES,
	'request.raised_by_id': MOVES,
	'request_announcement.contact_id': { merging: 'seen to', handedOut: { not: 'the messages say it' } },
	'session.contact_id': SIGN_IN,
	'sign_in_step.contact_id': SIGN_IN,
	'signature.contact_id': MOVES,
	'signed_answers.contact_id': MOVES,
	'recurring_request.contact_id': MOVES,
	'text_factor.contact_id': SIGN_IN,
	'unfinished_upload.contact_id': { merging: { stay: 'given up after a day' }, handedOut: { not: 'never came whole' } }
};

/** The columns whose rows move when two are merged. */
export const movedColumns = (of: Readonly<Record<string, Owned>>): { key: string; table: string; column: string }[] =>
	Object.entries(of)
		.filter(([, { merging }]) => merging === 'move')
		.map(([key]) => {
			const [table, column] = key.split('.');
			return { key, table, column };
		});
