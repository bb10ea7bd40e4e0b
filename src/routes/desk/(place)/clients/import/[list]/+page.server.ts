import { redirect } from '@sveltejs/kit';
import { z } from 'zod';
import { columnLabel, importColumns } from '$lib/core/clients/import/columns';
import { decisionSchema, ROW_OUTCOMES, type RowOutcome } from '$lib/core/clients/import/plan-import';
import { changeImport, leaveImport, readFirstRows, readImport, readImportRows } from '$lib/server/clients/import/prepare-import';
import { startImport, stopImport } from '$lib/server/clients/import/run-import';
import { undoImport } from '$lib/server/clients/import/undo-import';
import { loadFacts } from '$lib/server/facts/firm-facts';
import { deskRequest, type DeskRequest } from '$lib/web/desk-request';
import { idParam, inForm, inPage } from '$lib/web/form-errors';
import { timeWords } from '$lib/words/dates';

const PAGE = 50;
const querySchema = z.object({ show: z.enum(ROW_OUTCOMES).nullable().catch(null), after: z.coerce.number().int().min(0).catch(0) });

export const load = async (event) => {
	event.depends('desk:live');
	event.depends('desk:import');
	const desk = await deskRequest(event);
	const id = idParam(event.params.list);
	const query = querySchema.parse({ show: event.url.searchParams.get('show'), after: event.url.searchParams.get('after') ?? 0 });
	return inPage(() =>
		desk.read(async (tx, firm) => {
			const list = await readImport(tx, desk.actor, id);
			const facts = await loadFacts(tx);
			// what needs a person comes first
			const first = ROW_OUTCOMES.find((outcome) => list.counts[outcome] > 0) ?? 'create';
			const show: RowOutcome = query.show && list.counts[query.show] > 0 ? query.show : first;
			const rows = await readImportRows(tx, desk.actor, id, { outcome: show, after: query.after }, PAGE + 1);
			const time = (at: string | null) => at && timeWords(firm.locale, at, firm.calendar.timeZone);
			return {
				list: { ...list, begunAt: time(list.begunAt), doneAt: time(list.doneAt), undoneAt: time(list.undoneAt) },
				total: ROW_OUTCOMES.reduce((sum, outcome) => sum + list.counts[outcome], 0),
				/** rows that may hold the headings, each in short */
				first: (list.state === 'ready' && !list.format.startsWith('vCard') ? await readFirstRows(tx, desk.actor, id) : []).map(({ line, cells }) => ({
					line,
					words: cells
						.filter((cell) => cell.trim() !== '')
						.join(', ')
						.slice(0, 60)
				})),
				show,
				rows: rows.slice(0, PAGE),
				next: rows.length > PAGE ? rows[PAGE - 1].line : null,
				columnChoices: importColumns(facts).map((column) => ({ column, label: columnLabel(column, facts) })),
				/** what the columns are called, also those that can no longer be chosen */
				labels: Object.fromEntries(
					[...list.columns, ...rows.flatMap((row) => row.plan.problems.map((problem) => problem.column))].flatMap((column) =>
						column ? [[column, columnLabel(column, facts)]] : []
					)
				) as Record<string, string>
			};
		})
	);
};

type Event = Parameters<typeof deskRequest>[0] & { request: Request; params: { list: string } };

async function change(event: Event, work: (desk: DeskRequest, listId: string, form: FormData) => Promise<unknown>) {
	const form = await event.request.formData();
	return inForm(form, async () => {
		await work(await deskRequest(event), idParam(event.params.list), form);
		return { done: true };
	});
}

const line = z.coerce.number().int().min(1).max(1_000_000);
const columnSchema = z.string().min(1).max(60);
const cellSchema = z.object({ line, column: columnSchema, value: z.string().max(4000) });
const decideSchema = z.object({ line, decision: z.union([z.literal('').transform(() => null), decisionSchema]) });
const decideAllSchema = z.object({ outcome: z.enum(['wrong', 'ask']), decision: z.enum(['skip', 'not_ours']) });
const headingSchema = z.object({ headingLine: z.union([z.literal('').transform(() => null), line]) });
const columnsSchema = z.array(z.union([z.literal('').transform(() => null), columnSchema]));

export const actions = {
	chooseHeading: (event) =>
		change(event, (desk, listId, form) => changeImport(desk.context, desk.firmId, desk.actor, listId, headingSchema.parse(Object.fromEntries(form)))),
	chooseColumns: (event) =>
		change(event, (desk, listId, form) =>
			changeImport(desk.context, desk.firmId, desk.actor, listId, { columns: columnsSchema.parse(form.getAll('column')) })
		),
	mendCell: (event) =>
		change(event, (desk, listId, form) =>
			changeImport(desk.context, desk.firmId, desk.actor, listId, { cell: cellSchema.parse(Object.fromEntries(form)) })
		),
	decide: (event) =>
		change(event, (desk, listId, form) =>
			changeImport(desk.context, desk.firmId, desk.actor, listId, { decisions: [decideSchema.parse(Object.fromEntries(form))] })
		),
	decideAll: (event) =>
		change(event, (desk, listId, form) =>
			changeImport(desk.context, desk.firmId, desk.actor, listId, { decideAll: decideAllSchema.parse(Object.fromEntries(form)) })
		),
	start: (event) => change(event, (desk, listId) => desk.inFirm((tx) => startImport(tx, desk.actor, listId))),
	stop: (event) => change(event, (desk, listId) => desk.inFirm((tx) => stopImport(tx, desk.actor, listId))),
	leave: (event) =>
		change(event, async (desk, listId) => {
			await desk.inFirm((tx) => leaveImport(tx, desk.actor, listId));
			redirect(303, '/desk/clients/import');
		}),
	undo: (event) => change(event, (desk, listId) => desk.inFirm((tx) => undoImport(tx, desk.actor, listId)))
};
