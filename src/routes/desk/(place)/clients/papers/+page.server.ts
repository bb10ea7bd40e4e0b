import { readPapers } from '$lib/server/papers/client-papers';
import { deskRequest } from '$lib/web/desk-request';
import { papersQuery } from '$lib/web/papers-query';
import { timeWords } from '$lib/words/dates';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	const query = papersQuery(event.url.searchParams);
	return desk.read(async (tx, firm) => {
		const { papers, more } = await readPapers(tx, desk.actor, { clientId: null, ...query, folder: null });
		return { query, more, papers: papers.map((paper) => ({ ...paper, came: timeWords(firm.locale, paper.at, firm.calendar.timeZone) })) };
	});
};
