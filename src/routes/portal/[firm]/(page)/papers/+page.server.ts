import { readFoldersToAddTo, readShownPapers } from '$lib/server/papers/papers-for-client';
import { portalRequest } from '$lib/web/desk-request';
import { dateWords, dayOf } from '$lib/words/dates';

export const load = async (event) => {
	const portal = await portalRequest(event);
	const typed = (event.url.searchParams.get('find') ?? '').slice(0, 200);
	return portal.read(async (tx, firm) => {
		const day = (at: string) => dateWords(portal.locale, dayOf(at, firm.calendar.timeZone), 'withYear');
		return {
			typed,
			adding: await readFoldersToAddTo(tx, portal.actor),
			papers: (await readShownPapers(tx, portal.actor, typed)).map((paper) => ({
				...paper,
				on: day(paper.at),
				earlier: paper.earlier.map(({ id, name, at }) => ({ id, name, on: day(at) }))
			}))
		};
	});
};
