import { FEW, shareInWords, worksInWords } from '$lib/core/chasing/what-works';
import { readWhatWorks, WORKS_BY } from '$lib/server/chasing/what-works';
import { deskRequest } from '$lib/web/desk-request';

const HEADINGS = { step: 'By step', channel: 'By way', weekday: 'By day of the week', hour: 'By hour' } as const;

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	return desk.read(async (tx, firm) => {
		const groups = await readWhatWorks(tx, desk.actor, firm);
		return {
			says: worksInWords(groups.filter(({ by }) => by === 'step')),
			parts: WORKS_BY.map((by) => ({
				by,
				heading: HEADINGS[by],
				rows: groups
					.filter((group) => group.by === by)
					.map((group) => ({
						...group,
						few: group.sent < FEW,
						percent: Math.round((group.answered / group.sent) * 100),
						cells: [group.came, group.answered, group.handedIn, group.before].map((hits) => shareInWords(hits, group.sent))
					}))
			})).filter(({ rows }) => rows.length > 0)
		};
	});
};
