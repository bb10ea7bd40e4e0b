import { addDays, type IsoDate } from '../calendar/firm-calendar';

/** Days ahead within which something counts as due soon. */
export const SOON_DAYS = 7;

/** What a reminder names, told apart: late, due soon, and later, each in the order given. */
export interface ByLateness<Item> {
	late: Item[];
	soon: Item[];
	later: Item[];
}

/** Tells apart what is late on a day, due within a week, and not yet due; without a date it is not yet due. */
export function byLateness<Item extends { dueOn: IsoDate | null }>(items: readonly Item[], today: IsoDate): ByLateness<Item> {
	const soonest = addDays(today, SOON_DAYS);
	return {
		late: items.filter(({ dueOn }) => dueOn !== null && dueOn < today),
		soon: items.filter(({ dueOn }) => dueOn !== null && dueOn >= today && dueOn <= soonest),
		later: items.filter(({ dueOn }) => dueOn === null || dueOn > soonest)
	};
}
