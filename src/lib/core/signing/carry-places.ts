import type { PrintedPage, PrintedRun } from '../statements/printed/page-lines';
import type { Place } from './places';

/** Where a place is in a new edition of its document. */
export interface CarriedPlace {
	page: number;
	x: number;
	y: number;
	/** `lost`: the words around it are not there any more; it is where it was, and somebody looks at it */
	how: 'stayed' | 'moved' | 'lost';
}

/** Words up to so far from a place say where it is, and as many of them, the nearest; in points. */
const [NEAR, ANCHORS] = [260, 12];
/** Words that went as far as others, to so many points, went with them. */
const TOGETHER = 4;
/** So much of what the words around it weigh has to be found together. */
const ENOUGH = 0.35;

/** What a run says, to be found again: lines to write on are alike however long they are. */
const said = (run: PrintedRun): string =>
	run.text
		.normalize('NFKC')
		.toLowerCase()
		.replace(/[_.…]{4,}/g, '_')
		.replace(/\s+/g, ' ')
		.trim();

/** How far a run is from a place, edge to edge. */
function away(run: PrintedRun, place: Box): number {
	const across = Math.max(0, place.x - (run.x + run.width), run.x - (place.x + place.width));
	const down = Math.max(0, place.y - run.y, run.y - run.height - (place.y + place.height));
	return Math.hypot(across, down);
}

type Box = Pick<Place, 'page' | 'x' | 'y' | 'width' | 'height'>;
interface Shift {
	page: number;
	dx: number;
	dy: number;
	weight: number;
}

/**
 * Carries places over to a new edition of their document, by the words around each: where most of them went, it goes too. What stands
 * closer counts more, and so does what the new edition says only once.
 * @param before the pages of the old edition
 * @param after those of the new one
 * @returns for each place where it is now, in the order given; within its page
 */
export function carryPlaces(places: readonly Box[], before: readonly PrintedPage[], after: readonly PrintedPage[]): CarriedPlace[] {
	const runsBySaid = new Map<string, { page: number; run: PrintedRun }[]>();
	for (const [at, page] of after.entries())
		for (const run of page.runs) {
			const words = said(run);
			if (words === '') continue;
			const there = runsBySaid.get(words);
			if (there) there.push({ page: at + 1, run });
			else runsBySaid.set(words, [{ page: at + 1, run }]);
		}
	return places.map((place) => {
		const anchors = (before[place.page - 1]?.runs ?? [])
			.map((run) => ({ run, words: said(run), away: away(run, place) }))
			.filter((one) => one.words !== '' && one.away <= NEAR)
			.sort((a, b) => a.away - b.away)
			.slice(0, ANCHORS);
		const all = anchors.reduce((sum, anchor) => sum + weightOf(anchor.away), 0);
		const best = bestShift(place, anchors, runsBySaid);
		const found = best !== null && best.weight >= ENOUGH * all;
		const page = found ? best.page : Math.min(place.page, Math.max(1, after.length));
		const [dx, dy] = found ? [best.dx, best.dy] : [0, 0];
		const { width, height } = after[page - 1] ?? { width: Infinity, height: Infinity };
		const stayed = page === place.page && Math.abs(dx) < 1 && Math.abs(dy) < 1;
		return {
			page,
			x: within(place.x + (stayed ? 0 : dx), width - place.width),
			y: within(place.y + (stayed ? 0 : dy), height - place.height),
			how: !found ? 'lost' : stayed ? 'stayed' : 'moved'
		};
	});
}

const weightOf = (distance: number): number => 1 / (1 + distance / 40);
const within = (at: number, most: number): number => Math.max(0, Math.min(at, most));

/** Where most of the words around a place went; of two alike the nearer. */
function bestShift(
	place: Box,
	anchors: readonly { run: PrintedRun; words: string; away: number }[],
	runsBySaid: ReadonlyMap<string, readonly { page: number; run: PrintedRun }[]>
): Shift | null {
	const shifts = anchors.flatMap(({ run, words, away }, anchor) => {
		const there = runsBySaid.get(words) ?? [];
		// what stands everywhere says nothing
		return there.length > 40
			? []
			: there.map((one) => ({
					anchor,
					page: one.page,
					dx: one.run.x - run.x,
					dy: one.run.y - run.y,
					weight: weightOf(away) * (there.length === 1 ? 1 : 0.7)
				}));
	});
	let best: Shift | null = null;
	const far = ({ page, dx, dy }: Shift) => Math.abs(page - place.page) * 2000 + Math.abs(dx) + Math.abs(dy);
	for (const shift of shifts) {
		// each of the words counts once, with its nearest
		const together = new Map<number, number>();
		for (const other of shifts) {
			if (other.page !== shift.page || Math.abs(other.dx - shift.dx) > TOGETHER || Math.abs(other.dy - shift.dy) > TOGETHER) continue;
			together.set(other.anchor, Math.max(together.get(other.anchor) ?? 0, other.weight));
		}
		const one = { page: shift.page, dx: shift.dx, dy: shift.dy, weight: [...together.values()].reduce((sum, weight) => sum + weight, 0) };
		if (!best || one.weight > best.weight + 1e-9 || (Math.abs(one.weight - best.weight) <= 1e-9 && far(one) < far(best))) best = one;
	}
	return best;
}

/** What became of the places of a document in a new edition, in a sentence. */
export function carriedWords(carried: readonly Pick<CarriedPlace, 'how'>[]): string {
	const count = (how: CarriedPlace['how']) => carried.filter((one) => one.how === how).length;
	const [stayed, moved, lost] = [count('stayed'), count('moved'), count('lost')];
	if (carried.length === 0) return 'There were no places on its pages.';
	const said: [number, string][] = [
		[stayed, stayed === 1 ? 'stands where it stood' : 'stand where they stood'],
		[moved, `went with ${moved === 1 ? 'its' : 'their'} words`],
		[lost, `${lost === 1 ? 'was' : 'were'} not found again: look at the pages before you send it`]
	];
	const places = said
		.filter(([n]) => n > 0)
		.map(([n, words], at) => `${n === 1 ? 'one' : n}${at > 0 ? '' : n === 1 ? ' place' : ' places'} ${words}`);
	return `${places.join(', ').replace(/^o/, 'O')}.`;
}
