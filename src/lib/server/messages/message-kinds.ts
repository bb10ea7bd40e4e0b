import type { MessageKind } from '$lib/core/messages/message-states';
import { answerCode } from './kinds/answer-code';
import { answerCopy } from './kinds/answer-copy';
import { answerPassed } from './kinds/answer-passed';
import { answerTold } from './kinds/answer-told';
import { chase } from './kinds/chase';
import { invitation } from './kinds/invitation';
import { invitationChase } from './kinds/invitation-chase';
import { givenToAnswer } from './kinds/given-to-answer';
import { namedInNote } from './kinds/named-in-note';
import { newDevice } from './kinds/new-device';
import { papersShown } from './kinds/papers-shown';
import { partnerTold } from './kinds/partner-told';
import { passwordChanged } from './kinds/password-changed';
import { passwordReset } from './kinds/password-reset';
import { remark } from './kinds/remark';
import { request } from './kinds/request';
import { secondStepChanged } from './kinds/second-step-changed';
import { sentBack } from './kinds/sent-back';
import { signInCode } from './kinds/sign-in-code';
import { letterCode } from './kinds/letter-code';
import { letterLapses } from './kinds/letter-lapses';
import { letterStopped } from './kinds/letter-stopped';
import { signedCopy } from './kinds/signed-copy';
import { staffInvitation } from './kinds/staff-invitation';
import { summary, toldAtOnce } from './kinds/summary';
import { thanks } from './kinds/thanks';
import type { MessageKindDefinition } from './message-kind';

/** How each kind of message is sent and written. */
export const MESSAGE_KIND_DEFINITIONS: Record<MessageKind, MessageKindDefinition> = {
	invitation,
	invitation_chase: invitationChase,
	request,
	chase,
	sent_back: sentBack,
	signed_copy: signedCopy,
	letter_stopped: letterStopped,
	letter_lapses: letterLapses,
	letter_code: letterCode,
	password_reset: passwordReset,
	password_changed: passwordChanged,
	sign_in_code: signInCode,
	new_device: newDevice,
	second_step_changed: secondStepChanged,
	staff_invitation: staffInvitation,
	thanks,
	papers_shown: papersShown,
	remark,
	answer_code: answerCode,
	answer_copy: answerCopy,
	answer_told: answerTold,
	partner_told: partnerTold,
	named_in_note: namedInNote,
	given_to_answer: givenToAnswer,
	summary,
	told_at_once: toldAtOnce,
	answer_passed: answerPassed
};
