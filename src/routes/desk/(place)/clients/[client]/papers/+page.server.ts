import { readClientPapers } from '$lib/server/papers/client-papers';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { timeWords } from '$lib/words/dates';

/** Letters that may be typed to look for papers. */
const TYPED_MOST = 200;

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	const id = idParam(event.params.client);
	const typed = (event.url.searchParams.get('find') ?? '').slice(0, TYPED_MOST);
	const before = event.url.searchParams.get('before');
	return inPage(() =>
		desk.read(async (tx, firm) => {
			const { papers, more } = await readClientPapers(tx, desk.actor, id, { typed, before: before ? idParam(before) : null });
			return {
				typed,
				later: before !== null,
				more,
				papers: papers.map((paper) => ({ ...paper, came: timeWords(firm.locale, paper.at, firm.calendar.timeZone) }))
			};
		})
	);
};
