import type { CellState } from './statement-grid';

const NUMBERS = ['No', 'One', 'Two', 'Three', 'Four', 'Five', 'Six', 'Seven', 'Eight', 'Nine', 'Ten', 'Eleven', 'Twelve'];

/** How the statements of a client stand, in one sentence. */
export function gridSentence({ missing, differing, expected }: { missing: number; differing: number; expected: number }): string {
	const statements = `${NUMBERS[missing] ?? missing} ${missing === 1 ? 'statement is' : 'statements are'} missing`;
	const sums = `${NUMBERS[differing] ?? differing} ${differing === 1 ? 'sum does' : 'sums do'} not join`;
	if (missing > 0) return differing > 0 ? `${statements}, ${sums[0].toLowerCase()}${sums.slice(1)}.` : `${statements}.`;
	if (differing > 0) return `All statements are in, but ${sums[0].toLowerCase()}${sums.slice(1)}.`;
	return expected > 0 ? 'All statements are in, and every sum joins.' : 'No statement is expected yet.';
}

/** What a cell of the grid says. */
export function cellWords({ state, lateDays, missingDays }: { state: CellState; lateDays: number; missingDays: number }): string {
	switch (state) {
		case 'before':
		case 'closed':
			return '';
		case 'not_over':
			return 'not over';
		case 'in':
			return 'in';
		case 'to_look_at':
			return 'to look at';
		case 'part':
			return `${missingDays} d missing`;
		case 'asked':
			return 'asked';
		case 'late':
			return `${lateDays} d late`;
		case 'not_asked':
			return 'not asked';
		case 'not_needed':
			return 'not needed';
	}
}

/** An exact amount as people read it: “−12,204.11”. */
export const sumWords = (amount: string): string =>
	amount.replace(/^-/, '−').replace(/\d+(?=\.)/, (digits) => digits.replace(/\B(?=(\d{3})+$)/g, ','));
