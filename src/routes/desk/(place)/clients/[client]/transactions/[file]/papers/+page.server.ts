import { redirect } from '@sveltejs/kit';
import { z } from 'zod';
import { ASKED_LINES_MAX } from '$lib/core/transactions/statement-line-questions';
import { readClient } from '$lib/server/clients/read-clients';
import { askStatementLinesSchema, beginStatementLineQuestion, statementLineFilterSchema } from '$lib/server/transactions/choose-statement-lines';
import { pairLines, pairSchema, readPapersOfLines, readPapersToChoose, refusePair } from '$lib/server/transactions/papers-of-lines';
import { readTransactionFile } from '$lib/server/transactions/transaction-files';
import { requireStaff } from '$lib/server/actor';
import { deskForm, deskRequest } from '$lib/web/desk-request';
import { idParam, inForm, inPage } from '$lib/web/form-errors';
import { dayOf } from '$lib/words/dates';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	const fileId = idParam(event.params.file);
	return inPage(async () => {
		// pairs are looked for in a thread, and not within a transaction
		const papers = await readPapersOfLines(desk.context, desk.firmId, desk.actor, fileId);
		return desk.read(async (tx, firm) => {
			const file = await readTransactionFile(tx, desk.actor, fileId);
			const client = await readClient(tx, desk.actor, file.clientId);
			const cameOn = <T extends { at: string }>(paper: T) => ({ ...paper, cameOn: dayOf(paper.at, firm.calendar.timeZone) });
			return {
				client: { id: client.id, name: client.name, state: client.state },
				file: { id: fileId, name: file.name },
				...papers,
				likely: papers.likely.map((one) => ({ ...one, paper: cameOn(one.paper) })),
				found: papers.found.map((one) => ({ ...one, paper: cameOn(one.paper) })),
				choices: (await readPapersToChoose(tx, desk.actor, fileId)).map(cameOn)
			};
		});
	});
};

/** “line paper”, as the ticks of the form name pairs. */
const pairField = z
	.string()
	.transform((value) => value.split(' '))
	.pipe(z.tuple([z.uuid(), z.uuid()]))
	.transform(([lineId, paperId]) => ({ lineId, paperId }));

export const actions = {
	pair: (event) =>
		deskForm(event, async (tx, desk, form) => {
			requireStaff(desk.actor, 'file_papers');
			const pairs = z.array(pairField).min(1, 'Choose the pairs first.').parse(form.getAll('pair'));
			const count = await pairLines(tx, desk.actor, idParam(event.params.file), pairs);
			return { said: count === 1 ? 'Kept.' : `${count} pairs kept.` };
		}),
	choose: (event) =>
		deskForm(event, async (tx, desk, form) => {
			requireStaff(desk.actor, 'file_papers');
			await pairLines(tx, desk.actor, idParam(event.params.file), [pairSchema.parse(Object.fromEntries(form))]);
			return { said: 'Kept.' };
		}),
	refuse: (event) =>
		deskForm(event, async (tx, desk, form) => {
			requireStaff(desk.actor, 'file_papers');
			await refusePair(tx, desk.actor, idParam(event.params.file), pairSchema.parse(Object.fromEntries(form)));
			return { said: 'These two are not proposed again.' };
		}),
	ask: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			requireStaff(desk.actor, 'send_request');
			const input = askStatementLinesSchema.parse({ asks: 'paper', ids: form.getAll('line').slice(0, ASKED_LINES_MAX + 1), all: false });
			const { draftId, clientId } = await desk.inFirm((tx, firm) =>
				beginStatementLineQuestion(tx, desk.actor, firm, idParam(event.params.file), statementLineFilterSchema.parse({}), input)
			);
			redirect(303, `/desk/clients/${clientId}/ask?draft=${draftId}`);
		});
	}
};
