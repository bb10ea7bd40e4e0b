import { z } from 'zod';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { readRun } from '$lib/server/invitations/invite-many';
import { timeWords } from '$lib/words/dates';

const PAGE = 100;

export const load = async (event) => {
	event.depends('desk:live');
	event.depends('desk:run');
	const desk = await deskRequest(event);
	const from = z.coerce.number().int().min(0).catch(0).parse(event.url.searchParams.get('from'));
	return inPage(() =>
		desk.read(async (tx, firm) => {
			const { run, lines } = await readRun(tx, desk.actor, idParam(event.params.run), { from, limit: PAGE + 1 });
			const time = (at: string | null) => at && timeWords(firm.locale, at, firm.calendar.timeZone);
			return {
				run: { ...run, begunAt: time(run.begunAt) },
				lines: lines
					.slice(0, PAGE)
					.map(({ deliveredAt, openedAt, ...line }) => ({ ...line, deliveredAt: time(deliveredAt), openedAt: time(openedAt) })),
				next: lines.length > PAGE ? from + PAGE : null
			};
		})
	);
};
