import { writtenSchema } from '$lib/core/requests/request-form';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { giveSchema } from '$lib/core/talk/give';
import { laterSchema } from '$lib/core/talk/later';
import { requireStaff } from '$lib/server/actor';
import { giveAnswer } from '$lib/server/talk/give';
import { putOffAnswer } from '$lib/server/talk/later';
import { noteForm, writeNote } from '$lib/server/talk/notes';
import { takeBack } from '$lib/server/talk/take-back';
import { markWordsSeen, readTalk, writeWords } from '$lib/server/talk/words';
import { deskForm, deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';

type Params = { params: { client: string; contact: string } };
const talkOf = ({ params }: Params) => ({ clientId: idParam(params.client), contactId: idParam(params.contact) });

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	return inPage(() => desk.read((tx) => readTalk(tx, desk.actor, talkOf(event))));
};

export const actions = {
	write: (event) =>
		deskForm(event, (tx, desk, form) => {
			requireStaff(desk.actor, 'judge_item');
			return writeWords(tx, desk.actor, { ...talkOf(event), ...writtenSchema.parse(Object.fromEntries(form)) });
		}),
	note: (event) =>
		deskForm(event, (tx, desk, form) => {
			requireStaff(desk.actor, 'keep_record');
			return writeNote(tx, desk.actor, { ...talkOf(event), ...noteForm.parse(Object.fromEntries(form)) });
		}),
	later: (event) =>
		deskForm(event, (tx, desk, form, firm) => {
			requireStaff(desk.actor, 'judge_item');
			const { until } = laterSchema(localDate(desk.actor.now, firm.calendar)).parse(Object.fromEntries(form));
			return putOffAnswer(tx, desk.actor, firm, talkOf(event), until);
		}),
	give: (event) =>
		deskForm(event, (tx, desk, form) => {
			requireStaff(desk.actor, 'judge_item');
			return giveAnswer(tx, desk.actor, talkOf(event), giveSchema.parse(Object.fromEntries(form)));
		}),
	takeBack: (event) =>
		deskForm(event, (tx, desk, form) => {
			requireStaff(desk.actor, 'judge_item');
			return takeBack(tx, desk.actor, talkOf(event), idParam(String(form.get('remarkId') ?? '')));
		}),
	markSeen: (event) => deskForm(event, (tx, desk) => markWordsSeen(tx, desk.actor, talkOf(event)))
};
