import type { Tick } from '$lib/core/requests/tick-strip';

/** One stroke or area of a tick, in a box 10 wide and 14 high, moved right by `x`. */
type Shape = (x: number) => string;
const bar: Shape = (x) => `M${x + 1} 1h8v12h-8z`;

/** What a tick is drawn of: the class of each part tells its colour and weight (see app.css). */
const PARTS: Record<Tick, { part: string; path: Shape }[]> = {
	asked: [{ part: 'asked', path: bar }],
	started: [
		{ part: 'asked', path: bar },
		{ part: 'below', path: (x) => `M${x + 1} 7.5h8V13h-8z` }
	],
	late: [
		{ part: 'late', path: bar },
		{ part: 'late', path: (x) => `M${x + 5} 3.4v4.6M${x + 5} 10.2v.6` }
	],
	handed_in: [{ part: 'filled', path: bar }],
	sent_back: [{ part: 'back', path: (x) => `M${x + 4.5} 1H${x + 9}v12H${x + 1}V4.5zM${x + 1} 1l3 3` }],
	settled: [{ part: 'settled', path: (x) => `M${x + 0.5} 7h9` }]
};

/**
 * The paths of a row of ticks, those of one look joined into one: a list of a hundred clients draws
 * some thousand ticks.
 * @param step distance from one tick to the next
 */
export function drawTicks(ticks: readonly Tick[], step = 12): { part: string; d: string }[] {
	const paths = new Map<string, string>();
	ticks.forEach((tick, i) => {
		for (const { part, path } of PARTS[tick]) paths.set(part, (paths.get(part) ?? '') + path(i * step));
	});
	return [...paths].map(([part, d]) => ({ part, d }));
}
