export const ROLES = ['administrator', 'partner', 'coordinator', 'bookkeeper', 'filing'] as const;
export type Role = (typeof ROLES)[number];

/** Every act that a role may or may not do, in the words of the Firm place. */
export const ACT_WORDS = {
	look: 'look at clients, papers, messages and the Almanac',
	keep_record: 'write facts and notes about clients',
	add_client: 'add clients, change who looks after them, add engagements',
	import_clients: 'import and export lists of clients',
	close_client: 'lock, end and reopen clients, suspend contacts',
	see_as: 'see the portal as a contact sees it',
	invite: 'add people to clients and invite them',
	send_request: 'ask clients for papers, answers and signatures',
	file_papers: 'give papers their place, add, name and put them away',
	share_papers: 'show papers to clients and open folders to them',
	judge_item: 'accept, send back, waive and move what was asked',
	countersign: 'countersign letters',
	hand_on_accounts: 'see bank accounts that clients gave, and hand them on',
	keep_library: 'add and change texts of the Library',
	practise: 'fill and clear the practice workspace',
	set_up_firm: 'change the firm, its brand, its people and its security',
	move_demo_clock: 'move the clock of the demo'
} as const;
export type Act = keyof typeof ACT_WORDS;
export const ACTS = Object.keys(ACT_WORDS) as Act[];

const RUNS_CLIENTS: readonly Act[] = [
	'look',
	'keep_record',
	'add_client',
	'import_clients',
	'close_client',
	'see_as',
	'invite',
	'send_request',
	'file_papers',
	'share_papers',
	'judge_item',
	'countersign',
	'hand_on_accounts',
	'keep_library',
	'practise',
	'move_demo_clock'
];

/** What each role may do. What is not here is refused. */
export const MAY: Record<Role, readonly Act[]> = {
	administrator: ACTS,
	partner: RUNS_CLIENTS,
	coordinator: RUNS_CLIENTS,
	bookkeeper: ['look', 'keep_record', 'see_as', 'send_request', 'file_papers', 'share_papers', 'judge_item', 'keep_library', 'move_demo_clock'],
	filing: ['look', 'file_papers']
};

/** Whether a role has an act; nobody's role, null, has none. */
export function may(role: Role | null, act: Act): boolean {
	return role !== null && MAY[role].includes(act);
}
