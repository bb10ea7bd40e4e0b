import { redirect } from '@sveltejs/kit';
import { z } from 'zod';
import { fieldsOfList, SHEET_BYTES_MAX, SHEET_ROWS_MAX } from '$lib/core/requests/ask-sheet';
import { readServices } from '$lib/server/clients/client-record';
import { deskRequest } from '$lib/web/desk-request';
import { inForm, inPage } from '$lib/web/form-errors';
import { readList, readLists } from '$lib/server/library/request-lists';
import { askManyFilterSchema, MANY_CLIENTS, prepareForMany, proposeForMany } from '$lib/server/requests/ask-many';
import { chooseSheetColumns, readOwnSheets, readSheet, readSheetFields, readSheetResults } from '$lib/server/requests/ask-sheets';
import { timeWords } from '$lib/words/dates';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	const query = event.url.searchParams;
	const filter = askManyFilterSchema.parse(Object.fromEntries(query));
	const listId = z.uuid().nullable().catch(null).parse(query.get('list'));
	const fileId = z.uuid().nullable().catch(null).parse(query.get('file'));
	return inPage(() =>
		desk.read(async (tx, firm) => {
			const lists = (await readLists(tx, desk.actor)).map(({ id, name, lineCount, goesByItself, services }) => ({
				id,
				name,
				lines: lineCount,
				goesByItself,
				services
			}));
			const list = lists.find((one) => one.id === listId) ?? null;
			const kept = fileId === null ? null : await readSheet(tx, desk.actor, fileId);
			const byFile = kept !== null || query.get('by') === 'file';
			const at = (instant: string) => timeWords(firm.locale, instant, firm.calendar.timeZone);
			return {
				filter,
				lists,
				list,
				byFile,
				sheet: kept && { ...kept, rows: kept.rows.length, usedWords: kept.usedAt && at(kept.usedAt) },
				lines: list && !kept?.usedAt && (kept || !byFile) ? await proposeForMany(tx, desk.actor, firm, list.id, filter, kept) : [],
				results: kept?.usedAt ? await readSheetResults(tx, desk.actor, kept) : [],
				fields: byFile ? await readSheetFields(tx) : {},
				fieldsUsed: byFile && list ? fieldsOfList(await readList(tx, desk.actor, list.id)) : [],
				sheets: byFile && !kept ? (await readOwnSheets(tx, desk.actor)).map((sheet) => ({ ...sheet, at: at(sheet.usedAt ?? sheet.madeAt) })) : [],
				sheetBytesMost: SHEET_BYTES_MAX,
				most: byFile ? SHEET_ROWS_MAX : MANY_CLIENTS,
				services: (await readServices(tx)).map((service) => service.name)
			};
		})
	);
};

/** The rows of a file that are asked, by their lines. */
const linesSchema = z
	.string('Choose rows first.')
	.max(20_000)
	.transform((text) => text.split(',').filter(Boolean).map(Number))
	.pipe(z.array(z.number().int().positive()).min(1, 'Choose rows first.').max(SHEET_ROWS_MAX));

export const actions = {
	make: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const send = form.get('send') === 'yes';
			const fileId = form.get('file') === null ? null : z.uuid('Choose a file.').parse(form.get('file'));
			await desk.inFirm((tx) =>
				prepareForMany(tx, desk.actor, {
					listId: z.uuid('Choose a list.').parse(form.get('list')),
					filter: askManyFilterSchema.parse(Object.fromEntries(form)),
					runId: fileId ?? z.uuid().parse(form.get('runId')),
					send,
					sheet: fileId === null ? undefined : { id: fileId, lines: linesSchema.parse(form.get('rows')) }
				})
			);
			if (fileId !== null) redirect(303, `/desk/clients/ask?file=${fileId}`);
			redirect(303, send ? '/desk/clients/asked?show=open' : '/desk/clients/asked?show=drafts');
		});
	},
	columns: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const columns = z
				.array(z.string().max(60))
				.max(100)
				.parse(form.getAll('column'))
				.map((column) => column || null);
			await desk.inFirm((tx) => chooseSheetColumns(tx, desk.actor, z.uuid('Choose a file.').parse(form.get('file')), columns));
		});
	}
};
