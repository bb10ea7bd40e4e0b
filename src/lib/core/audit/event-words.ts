/** What can happen, each with the sentence of the firm's history. {…} are details of the event. */
export const EVENT_WORDS = {
	client_added: 'added the client',
	contact_address_changed: 'changed the address of {contact} from {from} to {to}',
	invitation_sent: 'invited {contact} ({email})',
	invitation_sent_again: 'invited {contact} again ({email})',
	invitation_withdrawn: 'withdrew the invitation of {contact}',
	invitation_put_aside: 'put the invitation of {contact} aside',
	invitation_opened: 'opened the invitation',
	invitation_taken_up: 'took up the invitation and chose a password',
	signed_in: 'signed in',
	sign_in_refused: 'could not sign in',
	signed_out: 'signed out',
	reset_asked: 'asked for a link to choose a new password',
	password_changed: 'chose a new password',
	request_sent: 'sent “{title}” with {count} items to {contact}',
	item_seen: 'opened “{title}”',
	item_started: 'began “{title}”',
	paper_added: 'added {name} to “{title}”',
	paper_removed: 'took {name} out of “{title}”',
	paper_opened: 'looked at {name}',
	paper_downloaded: 'downloaded {name}',
	item_handed_in: 'handed in “{title}”',
	item_answered_no: 'said that “{title}” does not apply: “{reason}”',
	item_declined: 'declined “{title}”: “{reason}”',
	item_accepted: 'accepted “{title}”',
	item_sent_back: 'sent “{title}” back: “{reason}”',
	item_waived: 'waived “{title}”',
	item_reopened: 'asked for “{title}” again',
	item_due_moved: 'moved “{title}” from {from} to {to}',
	letter_opened: 'opened the letter “{title}”',
	letter_shown_whole: 'was shown the whole letter “{title}”',
	letter_signed: 'signed “{title}”',
	letter_countersigned: 'countersigned and sealed “{title}”',
	letter_downloaded: 'downloaded the letter “{title}”',
	message_sent: 'sent “{subject}” to {to}',
	message_failed: 'could not deliver “{subject}” to {to}: {reason}',
	message_unclear: 'does not know whether “{subject}” reached {to}',
	message_held_back: 'held back “{subject}” for {to}: {reason}',
	message_seen: 'has seen what became of “{subject}”',
	reminders_stopped: 'stopped reminders',
	chasing_ran_out: 'sent the last reminder of the plan'
} as const;
export type EventVerb = keyof typeof EVENT_WORDS;

/** The sentence of an event; a detail that is missing is left out. */
export function eventSentence(verb: string, details: Readonly<Record<string, unknown>>): string {
	const words = EVENT_WORDS[verb as EventVerb] ?? verb.replaceAll('_', ' ');
	return words.replace(/\{(\w+)\}/g, (_, name: string) => String(details[name] ?? '…'));
}
