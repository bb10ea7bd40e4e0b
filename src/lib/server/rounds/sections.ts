import type { RoundsSection } from '$lib/core/rounds/sections';
import type { RoundsSectionDefinition } from './section';
import { answers } from './sections/answers';
import { arrivals } from './sections/arrivals';
import { calls } from './sections/calls';
import { checks } from './sections/checks';
import { drafts } from './sections/drafts';
import { handedIn } from './sections/handed-in';
import { mailTrouble } from './sections/mail-trouble';
import { named } from './sections/named';
import { noAddress } from './sections/no-address';
import { notTakenUp } from './sections/not-taken-up';
import { onPaper } from './sections/on-paper';
import { publicAnswers } from './sections/public-answers';
import { ranOut } from './sections/ran-out';
import { stopped } from './sections/stopped';
import { talk } from './sections/talk';
import { tasks } from './sections/tasks';
import { texts } from './sections/texts';
import { toCountersign } from './sections/to-countersign';
import { waiting_mail } from './sections/waiting-mail';
import { words } from './sections/words';

/** How each section is counted, read and opened. */
export const SECTIONS = {
	texts,
	talk,
	words,
	waiting_mail,
	named,
	checks,
	on_paper: onPaper,
	answers,
	arrivals,
	handed_in: handedIn,
	public_answers: publicAnswers,
	tasks,
	to_countersign: toCountersign,
	calls,
	ran_out: ranOut,
	stopped,
	mail_trouble: mailTrouble,
	not_taken_up: notTakenUp,
	drafts,
	no_address: noAddress
} as const satisfies Record<RoundsSection, RoundsSectionDefinition<unknown>>;

/** What can lie beside the list. */
export type Leaf = Awaited<ReturnType<(typeof SECTIONS)[RoundsSection]['leaf']['read']>>;
