import type { Database, Tx } from './database';

/** Runs one part of a page's reading. */
export type Reading<Known> = <T>(work: (tx: Tx, known: Known) => Promise<T>) => Promise<T>;

/**
 * One transaction for all the parts of a page that are read side by side: they see the same moment, what they all need is read once,
 * and beginning and ending it is paid once. It changes nothing: the database refuses it. Parts that are read after the others are done
 * begin a new one.
 * @param prepare reads what every part needs
 */
export function sharedReading<Known>(
	inFirm: (work: (tx: Tx) => Promise<void>) => Promise<void>,
	prepare: (tx: Tx) => Promise<Known>
): Reading<Known> {
	interface Running {
		readers: number;
		begun: Promise<{ tx: Tx; known: Known }>;
		ended: Promise<void>;
		end: () => void;
	}
	let running: Running | null = null;
	function begin(): Running {
		let [end, ended] = [() => {}, Promise.resolve()];
		const begun = new Promise<{ tx: Tx; known: Known }>((resolve, reject) => {
			const read = new Promise<void>((allRead) => (end = allRead));
			ended = inFirm(async (tx) => {
				resolve({ tx, known: await prepare(tx) });
				await read;
			});
			ended.catch(reject);
		});
		return { readers: 0, begun, ended, end };
	}
	return async (work) => {
		const mine = (running ??= begin());
		mine.readers++;
		try {
			const { tx, known } = await mine.begun;
			return await work(tx, known);
		} finally {
			if (--mine.readers === 0) {
				if (running === mine) running = null;
				mine.end();
				// what was only read is not lost with its connection
				await mine.ended.catch(() => undefined);
			}
		}
	};
}

const readings = new WeakMap<object, Map<string, unknown>>();

/** The reading that the parts of one page share. @param page what is the same for all of them @param whose what sets readings of one page apart */
export function readingOf<Known>(page: object, whose: string, open: () => Reading<Known>): Reading<Known> {
	let ofPage = readings.get(page);
	if (!ofPage) readings.set(page, (ofPage = new Map()));
	let reading = ofPage.get(whose) as Reading<Known> | undefined;
	if (!reading) ofPage.set(whose, (reading = open()));
	return reading;
}

/** The transaction of a shared reading, begun by a database. */
export const readOnly =
	(db: Database, firmId: string, as?: Parameters<Database['inFirm']>[2]) =>
	(work: (tx: Tx) => Promise<void>): Promise<void> =>
		db.inFirm(firmId, work, as, 'read only');
