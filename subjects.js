/**
 * The subjects of `src/lib/server`, from the ground up: each may import from those above it in this list, never from those below or beside
 * it. The lint holds them to it, and the picture in docs/ is drawn from it.
 */
export const SUBJECTS = [
	['platform'],
	['audit', 'outbox'],
	['attachments', 'facts', 'firms'],
	['chasing', 'library', 'people'],
	['clients', 'items'],
	['drafts', 'letters', 'messages', 'papers', 'signing', 'statements'],
	['announcements', 'invitations', 'practice', 'set-up', 'talk', 'transactions'],
	['context', 'item-kinds', 'rounds'],
	['requests', 'telling'],
	['schedules'],
	['due', 'firm-settings']
];
