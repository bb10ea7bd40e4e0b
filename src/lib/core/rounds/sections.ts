/** What Rounds is made of, in the order in which it is to be dealt with. */
export const ROUNDS_SECTIONS = [
	{ section: 'texts', title: 'Answers by text message' },
	{ section: 'talk', title: 'Asked about an item' },
	{ section: 'answers', title: 'Says it does not apply' },
	{ section: 'handed_in', title: 'Handed in, to look at' },
	{ section: 'to_countersign', title: 'To countersign' },
	{ section: 'ran_out', title: 'Nobody is reminded any more' },
	{ section: 'mail_trouble', title: 'Mail that did not arrive' },
	{ section: 'not_taken_up', title: 'Invitation not taken up' },
	{ section: 'drafts', title: 'Drafts waiting' },
	{ section: 'no_address', title: 'No address yet' }
] as const;
export type RoundsSection = (typeof ROUNDS_SECTIONS)[number]['section'];

/** Rows of one section shown at once: more than anybody deals with at a sitting; the rest follow as these leave. */
export const ROUNDS_SECTION_ROWS = 40;
