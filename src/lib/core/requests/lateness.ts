import { daysBetween, type IsoDate } from '../calendar/firm-calendar';
import { isOpen, type ItemState } from './item-states';

/** Whole days past the due date for an item the client still has to do; 0 if not late. The due day itself is not late. */
export function daysLate(item: { state: ItemState; dueOn: IsoDate | null }, today: IsoDate): number {
	if (!item.dueOn || !isOpen(item.state)) return 0;
	return Math.max(0, daysBetween(item.dueOn, today));
}

export type Light = 'needs_you' | 'soon' | 'waiting';

/** What hangs in the margin of a client: the one thing that matters, and how strongly it is lit. */
export type Wait =
	| { kind: 'late'; days: number }
	| { kind: 'to_look_at' }
	| { kind: 'due'; on: IsoDate }
	| { kind: 'no_due_date' }
	| { kind: 'all_in' }
	| { kind: 'nothing_asked' };

/** The longest wait among a client's items, and its light: late or handed in needs the firm, due within 5 days is soon. */
export function longestWait(
	position: { items: number; toLookAt: number; open: number; earliestOpenDue: IsoDate | null },
	today: IsoDate
): { wait: Wait; light: Light } {
	if (position.items === 0) return { wait: { kind: 'nothing_asked' }, light: 'waiting' };
	const due = position.earliestOpenDue;
	const late = due ? Math.max(0, daysBetween(due, today)) : 0;
	if (late > 0) return { wait: { kind: 'late', days: late }, light: 'needs_you' };
	if (position.toLookAt > 0) return { wait: { kind: 'to_look_at' }, light: 'needs_you' };
	if (due)
		return {
			wait: { kind: 'due', on: due },
			light: daysBetween(today, due) <= 5 ? 'soon' : 'waiting'
		};
	if (position.open > 0) return { wait: { kind: 'no_due_date' }, light: 'waiting' };
	return { wait: { kind: 'all_in' }, light: 'waiting' };
}
