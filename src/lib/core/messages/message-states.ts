export const MESSAGE_STATES = ['planned', 'sending', 'sent', 'held_back', 'failed', 'unclear'] as const;
export type MessageState = (typeof MESSAGE_STATES)[number];

/**
 * Every allowed move of a message. `sending` is written before the mail server is spoken to and
 * `sent` after it has answered: a message found in `sending` with nobody working on it is `unclear`,
 * and no machine sends it again. A bounce may arrive long after `sent`.
 */
export const MESSAGE_TRANSITIONS: readonly { from: MessageState; to: MessageState }[] = [
	{ from: 'planned', to: 'sending' },
	{ from: 'planned', to: 'held_back' },
	{ from: 'sending', to: 'sent' },
	{ from: 'sending', to: 'planned' },
	{ from: 'sending', to: 'failed' },
	{ from: 'sending', to: 'unclear' },
	{ from: 'sent', to: 'failed' },
	{ from: 'unclear', to: 'sent' },
	{ from: 'unclear', to: 'failed' }
];

export function mayMessageMove(from: MessageState, to: MessageState): boolean {
	return MESSAGE_TRANSITIONS.some((t) => t.from === from && t.to === to);
}

/** The states from which a message may come into another: what a statement that changes messages asks for. */
export function messageStatesBefore(to: MessageState): MessageState[] {
	return MESSAGE_TRANSITIONS.filter((t) => t.to === to).map((t) => t.from);
}

export const MESSAGE_KINDS = [
	'invitation',
	'invitation_chase',
	'request',
	'chase',
	'sent_back',
	'signed_copy',
	'letter_stopped',
	'letter_lapses',
	'letter_code',
	'password_reset',
	'password_changed',
	'sign_in_code',
	'new_device',
	'second_step_changed',
	'staff_invitation',
	'thanks',
	'remark',
	'answer_code',
	'answer_copy',
	'answer_told',
	'partner_told',
	'named_in_note',
	'given_to_answer',
	'summary',
	'told_at_once',
	'answer_passed',
	'papers_shown'
] as const;
export type MessageKind = (typeof MESSAGE_KINDS)[number];

/**
 * Which messages count as the one that a person gets in a day: what goes by itself waits for the next day when one of these has gone.
 * Codes, resets, warnings and signed copies stand apart. What a person of the firm writes goes when they send it.
 */
export const TELLS: Record<MessageKind, boolean> = {
	invitation: true,
	invitation_chase: true,
	request: true,
	chase: true,
	sent_back: true,
	signed_copy: false,
	letter_stopped: false,
	letter_lapses: true,
	letter_code: false,
	password_reset: false,
	password_changed: false,
	sign_in_code: false,
	answer_code: false,
	answer_copy: false,
	answer_told: false,
	partner_told: false,
	named_in_note: false,
	given_to_answer: false,
	summary: false,
	told_at_once: false,
	// one of their own wrote it, not the firm
	answer_passed: false,
	new_device: false,
	second_step_changed: false,
	staff_invitation: false,
	thanks: true,
	papers_shown: true,
	remark: true
};
