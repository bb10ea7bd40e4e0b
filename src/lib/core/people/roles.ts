export const ROLES = ['administrator', 'partner', 'coordinator', 'bookkeeper', 'filing'] as const;
export type Role = (typeof ROLES)[number];

export const ACTS = [
	'look',
	'keep_record',
	'add_client',
	'import_clients',
	'close_client',
	'invite',
	'send_request',
	'judge_item',
	'countersign',
	'set_up_firm',
	'move_demo_clock'
] as const;
export type Act = (typeof ACTS)[number];

/** What each role may do. What is not here is refused. */
export const MAY: Record<Role, readonly Act[]> = {
	administrator: ACTS,
	partner: [
		'look',
		'keep_record',
		'add_client',
		'import_clients',
		'close_client',
		'invite',
		'send_request',
		'judge_item',
		'countersign',
		'move_demo_clock'
	],
	coordinator: [
		'look',
		'keep_record',
		'add_client',
		'import_clients',
		'close_client',
		'invite',
		'send_request',
		'judge_item',
		'countersign',
		'move_demo_clock'
	],
	bookkeeper: ['look', 'keep_record', 'send_request', 'judge_item', 'move_demo_clock'],
	filing: ['look']
};

export function may(role: Role, act: Act): boolean {
	return MAY[role].includes(act);
}
