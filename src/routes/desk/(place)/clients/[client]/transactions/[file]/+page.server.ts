import { redirect } from '@sveltejs/kit';
import { DATE_ORDERS, DATE_ORDER_WORDS } from '$lib/core/transactions/days';
import { CSV_COLUMN_WORDS, CSV_COLUMNS, missingColumn } from '$lib/core/transactions/csv-columns';
import { unreadInWords } from '$lib/core/transactions/statement-line-questions';
import { STATEMENT_FORMAT_WORDS } from '$lib/core/transactions/statement-line';
import { accountName } from '$lib/core/statements/accounts';
import { readClient } from '$lib/server/clients/read-clients';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inForm, inPage } from '$lib/web/form-errors';
import {
	askStatementLinesSchema,
	beginStatementLineQuestion,
	statementLineFilterSchema,
	readChoosableStatementLines
} from '$lib/server/transactions/choose-statement-lines';
import { readingSchema, readInAnotherWay, readTransactionFile, removeTransactionFile } from '$lib/server/transactions/transaction-files';

const PAGE = 200;
const filterOf = (of: Pick<URLSearchParams, 'get'> | FormData) =>
	statementLineFilterSchema.parse({
		only: of.get('only') ?? 'all',
		over: of.get('over') || null,
		words: of.get('words') ?? '',
		asked: of.get('asked') === '1'
	});

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	const fileId = idParam(event.params.file);
	const filter = filterOf(event.url.searchParams);
	const after = Math.max(0, Number(event.url.searchParams.get('after')) || 0);
	return inPage(() =>
		desk.read(async (tx) => {
			const file = await readTransactionFile(tx, desk.actor, fileId);
			const client = await readClient(tx, desk.actor, file.clientId);
			const { lines, count, askedBefore } = await readChoosableStatementLines(tx, desk.actor, fileId, filter, { after, most: PAGE + 1 });
			return {
				client: { id: client.id, name: client.name, state: client.state },
				file: {
					...file,
					formatWords: STATEMENT_FORMAT_WORDS[file.format],
					account: file.account && accountName(file.account),
					unreadLines: unreadInWords(file.unreadLines.slice(0, 20)),
					missing: file.format === 'csv' ? missingColumn(file.columns) : null
				},
				filter,
				lines: lines.slice(0, PAGE),
				next: lines.length > PAGE ? lines[PAGE - 1].position : null,
				count,
				askedBefore,
				columnChoices: CSV_COLUMNS.map((column) => ({ column, label: CSV_COLUMN_WORDS[column] })),
				orders: DATE_ORDERS.map((order) => ({ order, label: DATE_ORDER_WORDS[order] }))
			};
		})
	);
};

export const actions = {
	ask: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const input = askStatementLinesSchema.parse({ asks: form.get('asks'), ids: form.getAll('line'), all: form.get('all') === 'yes' });
			const { draftId, clientId } = await desk.inFirm((tx, firm) =>
				beginStatementLineQuestion(tx, desk.actor, firm, idParam(event.params.file), filterOf(form), input)
			);
			redirect(303, `/desk/clients/${clientId}/ask?draft=${draftId}`);
		});
	},
	readAgain: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const choices = readingSchema.parse({ columns: form.getAll('column'), order: form.get('order') ?? '', flip: form.get('flip') === 'yes' });
			await readInAnotherWay(desk.context, desk.firmId, desk.actor, idParam(event.params.file), {
				...choices,
				columns: choices.columns.length > 0 ? choices.columns : null
			});
			return { done: true };
		});
	},
	remove: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const { clientId, storageKey } = await desk.inFirm((tx) => removeTransactionFile(tx, desk.actor, idParam(event.params.file)));
			await desk.context.papers.remove(storageKey);
			redirect(303, `/desk/clients/${clientId}/transactions`);
		});
	}
};
