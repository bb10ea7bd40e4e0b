import { may, type Act, type Role } from '../people/roles';

/** What Rounds is made of, in the order in which it is to be dealt with, and the act it takes to deal with it. */
export const ROUNDS_SECTIONS = [
	{ section: 'texts', act: 'judge_item', title: 'Answers by text message' },
	{ section: 'talk', act: 'judge_item', title: 'Asked about an item' },
	{ section: 'words', act: 'judge_item', title: 'Wrote to you' },
	{ section: 'waiting_mail', act: 'judge_item', title: 'Answers by e-mail, to look at' },
	{ section: 'named', act: 'look', title: 'Named you in a note' },
	{ section: 'checks', act: 'send_request', title: 'Could not show who they are' },
	{ section: 'on_paper', act: 'judge_item', title: 'Signed on paper, to look at' },
	{ section: 'answers', act: 'judge_item', title: 'Said no' },
	{ section: 'arrivals', act: 'file_papers', title: 'Arrived without being asked for' },
	{ section: 'handed_in', act: 'judge_item', title: 'Handed in, to look at' },
	{ section: 'public_answers', act: 'judge_item', title: 'Answered on a public page' },
	{ section: 'tasks', act: 'judge_item', title: 'To do' },
	{ section: 'to_countersign', act: 'countersign', title: 'To countersign' },
	{ section: 'calls', act: 'judge_item', title: 'To call' },
	{ section: 'ran_out', act: 'judge_item', title: 'Nobody is reminded any more' },
	{ section: 'stopped', act: 'judge_item', title: 'Want no more reminders' },
	{ section: 'mail_trouble', act: 'invite', title: 'Mail that did not arrive' },
	{ section: 'not_taken_up', act: 'invite', title: 'Invitation not accepted' },
	{ section: 'drafts', act: 'send_request', title: 'Drafts waiting' },
	{ section: 'no_address', act: 'invite', title: 'No address yet' }
] as const satisfies readonly { section: string; act: Act; title: string }[];
export type RoundsSection = (typeof ROUNDS_SECTIONS)[number]['section'];

/** Rows of one section shown at once: more than anybody deals with at a sitting; the rest follow as these leave. */
export const ROUNDS_SECTION_ROWS = 40;

/** Whether somebody's role lets them deal with what stands in a section. */
export function isTheirs(role: Role | null, section: RoundsSection): boolean {
	return may(role, ROUNDS_SECTIONS.find((one) => one.section === section)!.act);
}

/** How many things somebody can deal with, of those that wait. */
export function countTheirs(role: Role | null, waiting: Record<RoundsSection, number>): number {
	return ROUNDS_SECTIONS.reduce((sum, { section }) => sum + (isTheirs(role, section) ? waiting[section] : 0), 0);
}
