export const IMPORT_STATES = ['ready', 'running', 'done', 'undone', 'left'] as const;
export type ImportState = (typeof IMPORT_STATES)[number];

/** Every allowed move of an import. What is not here is refused. */
export const IMPORT_TRANSITIONS: readonly { from: ImportState; to: ImportState }[] = [
	{ from: 'ready', to: 'running' },
	{ from: 'ready', to: 'left' },
	// stopped by a person, or the clients had changed since the plan was looked at
	{ from: 'running', to: 'ready' },
	{ from: 'running', to: 'done' },
	{ from: 'done', to: 'undone' }
];

export function mayImportMove(from: ImportState, to: ImportState): boolean {
	return IMPORT_TRANSITIONS.some((move) => move.from === from && move.to === to);
}
