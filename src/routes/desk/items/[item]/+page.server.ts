import { redirect } from '@sveltejs/kit';
import { z } from 'zod';
import { dueOnSchema, newVersionSchema, pinSchema, reasonSchema, remarkSchema, writtenSchema } from '$lib/core/requests/request-form';
import { statementLineAnswerForm } from '$lib/core/transactions/statement-line-questions';
import { QUESTIONS_MAX } from '$lib/core/questionnaires/questionnaire';
import { signatureSchema } from '$lib/core/signing/signature';
import { deskForm, deskRequest } from '$lib/web/desk-request';
import { idParam, inForm, inPage } from '$lib/web/form-errors';
import {
	acceptItem,
	changeItemPerson,
	moveDueDate,
	noteLooked,
	putUpNewVersion,
	reopenItem,
	sendItemBack,
	waiveItem
} from '$lib/server/requests/judge-item';
import { fillInLine } from '$lib/server/transactions/answer-statement-lines';
import { acceptAnswers, askBackAnswers, correctAnswer, leaveOutBring } from '$lib/server/item-kinds/kinds/answer-review';
import { draftNewVersion } from '$lib/server/requests/new-letter-version';
import {
	changeSigningWay,
	changeWaySchema,
	checkAgainSchema,
	letCheckAgain,
	replaceSigner,
	replaceSignerSchema
} from '$lib/server/requests/replace-signer';
import { returnSignedPaper, returnSignedPaperSchema, takeSignedPaper, takeSignedPaperSchema } from '$lib/server/requests/signed-on-paper';
import { fillInByPhone } from '$lib/server/requests/fill-in';
import { pauseSchema } from '$lib/core/chasing/hold';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { letRemindersGoOn, pauseReminders, type HeldThing } from '$lib/server/chasing/holds';
import type { Tx } from '$lib/server/platform/db/database';
import type { Actor } from '$lib/server/actor';
import { takeBack } from '$lib/server/talk/take-back';
import { noteForm, writeNote } from '$lib/server/talk/notes';
import { markRemarksSeen, writeRemark } from '$lib/server/items/remarks';
import { giveSchema } from '$lib/core/talk/give';
import { laterSchema } from '$lib/core/talk/later';
import { giveAnswer } from '$lib/server/talk/give';
import { putOffAnswer } from '$lib/server/talk/later';
import { removeAccount, showAccount, type NamedAccount } from '$lib/server/signing/payment-authorisations';
import { endSecret, showSecret } from '$lib/server/items/secrets';
import { readItem } from '$lib/server/items/read-items';
import { requireStaff } from '$lib/server/actor';
import { placeValues } from '$lib/web/place-values';
import { countersignLetter, takeOverSigning } from '$lib/server/signing/countersign-letter';

/** Of the letter that was before the eyes of whoever countersigns it. */
const shaSchema = z.string('Open the letter first.').regex(/^[0-9a-f]{64}$/);
const versionSchema = z.object({ version: z.coerce.number().int() });

/** An item's own address leads to its leaf in the client's record. */
export const load = async (event) => {
	const desk = await deskRequest(event);
	const item = await inPage(() => desk.inFirm((tx) => readItem(tx, desk.actor, idParam(event.params.item))));
	redirect(303, `/desk/clients/${item.clientId}/item/${item.id}`);
};

const keySchema = z.string().min(1).max(40);
/** What stands in the fields whose names begin so, by the rest of their names; empty ones are none. */
function wordsByKey(form: Record<string, unknown>, prefix: string): Record<string, string> {
	const typed = Object.entries(form).filter(([name, words]) => name.startsWith(prefix) && typeof words === 'string' && words.trim() !== '');
	return z
		.record(keySchema, z.string().trim().max(400, 'Please keep it to 400 characters.'))
		.parse(Object.fromEntries(typed.slice(0, QUESTIONS_MAX).map(([name, words]) => [name.slice(prefix.length), words])));
}

type Event = Parameters<typeof deskRequest>[0] & { request: Request; params: { item: string } };

async function judge(
	event: Event,
	work: (desk: Awaited<ReturnType<typeof deskRequest>>, input: { itemId: string; version: number }, form: Record<string, unknown>) => Promise<unknown>
) {
	const form = await event.request.formData();
	return inForm(form, async () => {
		const values = Object.fromEntries(
			[...new Set(form.keys())].map((name) => [name, form.getAll(name).length > 1 ? form.getAll(name) : form.get(name)])
		);
		const answer = await work(await deskRequest(event), { itemId: idParam(event.params.item), ...versionSchema.parse(values) }, values);
		return { done: true, ...(typeof answer === 'string' || isAnswer(answer) ? { answer } : {}) };
	});
}

/** What an act has to show, and not only to do. */
const isAnswer = (answer: unknown): answer is NamedAccount => typeof answer === 'object' && answer !== null && 'account' in answer;

/** What is paused from an item: it alone, or all of its request. */
async function heldThing(tx: Tx, actor: Actor, itemId: string, form: FormData): Promise<HeldThing> {
	return form.get('what') === 'request' ? { requestId: (await readItem(tx, actor, itemId)).requestId } : { itemId };
}

const leaveOutSchema = z.object({ key: z.string().min(1).max(90), out: z.enum(['yes', 'no']) });

export const actions = {
	/** What was handed in is before somebody's eyes. */
	noteLooked: (event) => judge(event, (desk, input) => desk.inFirm((tx) => noteLooked(tx, desk.actor, input.itemId))),
	accept: (event) => judge(event, (desk, input) => desk.inFirm((tx) => acceptItem(tx, desk.actor, input))),
	sendBack: (event) =>
		judge(event, (desk, input, form) => desk.inFirm((tx) => sendItemBack(tx, desk.actor, { ...input, ...reasonSchema.parse(form) }))),
	waive: (event) => judge(event, (desk, input) => desk.inFirm((tx) => waiveItem(tx, desk.actor, input))),
	reopen: (event) => judge(event, (desk, input) => desk.inFirm((tx) => reopenItem(tx, desk.actor, input))),
	moveDue: (event) => judge(event, (desk, input, form) => desk.inFirm((tx) => moveDueDate(tx, desk.actor, { ...input, ...dueOnSchema.parse(form) }))),
	changePerson: (event) =>
		judge(event, (desk, input, form) =>
			desk.inFirm((tx) => changeItemPerson(tx, desk.actor, { ...input, contactId: idParam(String(form.contactId ?? '')) }))
		),
	fillIn: (event) => judge(event, (desk, input, form) => desk.inFirm((tx) => fillInByPhone(tx, desk.actor, { ...input, typed: form }))),
	/** Asks back the answers of a questionnaire that are named, and leaves the rest as it is. */
	askBack: (event) =>
		judge(event, (desk, input, form) => desk.inFirm((tx) => askBackAnswers(tx, desk.actor, { ...input, words: wordsByKey(form, 'back.') }))),
	correct: (event) =>
		judge(event, (desk, input, form) => {
			const key = keySchema.parse(form.question);
			return desk.inFirm((tx) => correctAnswer(tx, desk.actor, { ...input, key, typed: form[key] }));
		}),
	acceptPart: (event) =>
		judge(event, (desk, input, form) =>
			desk.inFirm((tx) => acceptAnswers(tx, desk.actor, { ...input, keys: z.array(keySchema).min(1).max(QUESTIONS_MAX).parse([form.key].flat()) }))
		),
	/** Leaves out one thing that the answers would bring about, or lets it happen after all. */
	leaveOut: (event) =>
		judge(event, (desk, input, form) => {
			const { key, out } = leaveOutSchema.parse(form);
			return desk.inFirm((tx) => leaveOutBring(tx, desk.actor, { ...input, key, out: out === 'yes' }));
		}),
	fillInLine: (event) =>
		judge(event, (desk, input, form) => {
			const { lineId, ...answer } = statementLineAnswerForm.parse(form);
			return desk.inFirm((tx) => fillInLine(tx, desk.actor, { ...input, lineId, answer }));
		}),
	write: (event) =>
		judge(event, (desk, input, form) =>
			desk.inFirm((tx) => writeRemark(tx, desk.actor, { itemId: input.itemId, ...writtenSchema.parse(form), pinned: null }))
		),
	/** Pauses the reminders of this thing, or of all that its request asks. */
	pause: (event) =>
		deskForm(event, async (tx, desk, form, firm) => {
			requireStaff(desk.actor, 'judge_item');
			const pause = pauseSchema(localDate(desk.actor.now, firm.calendar)).parse(Object.fromEntries(form));
			return pauseReminders(tx, desk.actor, firm, await heldThing(tx, desk.actor, idParam(event.params.item), form), pause);
		}),
	letGoOn: (event) =>
		deskForm(event, async (tx, desk, form, firm) => {
			requireStaff(desk.actor, 'judge_item');
			return letRemindersGoOn(tx, desk.actor, firm, await heldThing(tx, desk.actor, idParam(event.params.item), form));
		}),
	note: (event) =>
		deskForm(event, (tx, desk, form) => {
			requireStaff(desk.actor, 'keep_record');
			return writeNote(tx, desk.actor, { itemId: idParam(event.params.item), ...noteForm.parse(Object.fromEntries(form)) });
		}),
	/** Pins a remark to a page of a file that is shown for approval. */
	pin: (event) =>
		judge(event, (desk, input, form) =>
			desk.inFirm((tx) => writeRemark(tx, desk.actor, { itemId: input.itemId, ...remarkSchema.parse(form), pinned: pinSchema.parse(form) }))
		),
	putUpNewVersion: (event) =>
		judge(event, (desk, input, form) => desk.inFirm((tx) => putUpNewVersion(tx, desk.actor, { ...input, ...newVersionSchema.parse(form) }))),
	/** Puts off the answer to what the client wrote about it. */
	answerLater: (event) =>
		judge(event, (desk, input, form) =>
			desk.inFirm((tx, firm) => {
				const { until } = laterSchema(localDate(desk.actor.now, firm.calendar)).parse(form);
				return putOffAnswer(tx, desk.actor, firm, { itemId: input.itemId }, until);
			})
		),
	takeBack: (event) =>
		deskForm(event, (tx, desk, form) => {
			requireStaff(desk.actor, 'judge_item');
			return takeBack(tx, desk.actor, { itemId: idParam(event.params.item) }, idParam(String(form.get('remarkId') ?? '')));
		}),
	/** Gives what the client wrote about it to a colleague to answer. */
	giveAnswer: (event) =>
		judge(event, (desk, input, form) => desk.inFirm((tx) => giveAnswer(tx, desk.actor, { itemId: input.itemId }, giveSchema.parse(form)))),
	markRemarksSeen: (event) => judge(event, (desk, input) => desk.inFirm((tx) => markRemarksSeen(tx, desk.actor, input.itemId))),
	/** Answers what a client gave to get into a system, once; the look is in the history. */
	showSecret: (event) =>
		judge(event, (desk, input) => desk.inFirm((tx) => showSecret(tx, desk.actor, desk.context.settings.SECRET_KEY, input.itemId))),
	endSecret: (event) => judge(event, (desk, input) => desk.inFirm((tx) => endSecret(tx, desk.actor, input.itemId))),
	/** Answers the account that was named in a letter; the look is in the history. */
	showAccount: (event) =>
		judge(event, (desk, { itemId }, form) =>
			desk.inFirm((tx) => {
				requireStaff(desk.actor, 'hand_on_accounts');
				return showAccount(tx, desk.actor, desk.context.settings.SECRET_KEY, { itemId, id: z.uuid().parse(form.id) });
			})
		),
	removeAccount: (event) =>
		judge(event, (desk, { itemId }, form) =>
			desk.inFirm((tx) => {
				requireStaff(desk.actor, 'hand_on_accounts');
				return removeAccount(tx, desk.actor, { itemId, id: z.uuid().parse(form.id) });
			})
		),
	/** A letter that nobody signs any more is changed and sent anew. */
	newLetterVersion: async (event) => {
		const desk = await deskRequest(event);
		const { draftId, clientId } = await inPage(() => desk.inFirm((tx) => draftNewVersion(tx, desk.actor, idParam(event.params.item))));
		redirect(303, `/desk/clients/${clientId}/ask?draft=${draftId}`);
	},
	/** Somebody else of the client signs. */
	replaceSigner: (event) =>
		judge(event, (desk, { itemId }, form) =>
			desk.inFirm((tx) => {
				requireStaff(desk.actor, 'send_request');
				return replaceSigner(tx, desk.actor, { itemId, ...replaceSignerSchema.parse(form) });
			})
		),
	/** They come to it by another way. */
	changeWay: (event) =>
		judge(event, (desk, { itemId }, form) =>
			desk.inFirm((tx) => {
				requireStaff(desk.actor, 'send_request');
				return changeSigningWay(tx, desk.actor, { itemId, ...changeWaySchema.parse(form) });
			})
		),
	/** They did not show who they are, and may try again. */
	checkAgain: (event) =>
		judge(event, (desk, { itemId }, form) =>
			desk.inFirm((tx) => {
				requireStaff(desk.actor, 'send_request');
				return letCheckAgain(tx, desk.actor, { itemId, ...checkAgainSchema.parse(form) });
			})
		),
	/** They signed by hand, and the pages are here. */
	takeSignedPaper: (event) =>
		judge(event, (desk, { itemId }, form) => {
			requireStaff(desk.actor, 'judge_item');
			return takeSignedPaper(desk.context, desk.firmId, desk.actor, {
				itemId,
				...takeSignedPaperSchema.parse({ ...form, paperIds: [form.paperId ?? []].flat() }),
				scanning: Boolean(desk.context.settings.CLAMD)
			});
		}),
	/** The pages are not whole, or not signed. */
	returnSignedPaper: (event) =>
		judge(event, (desk, { itemId }, form) =>
			desk.inFirm((tx) => {
				requireStaff(desk.actor, 'judge_item');
				return returnSignedPaper(tx, desk.actor, { itemId, ...returnSignedPaperSchema.parse(form) });
			})
		),
	/** What somebody else of the firm was named to sign. */
	takeOver: (event) => judge(event, (desk, input) => desk.inFirm((tx) => takeOverSigning(tx, desk.actor, input.itemId))),
	countersign: (event) =>
		judge(event, (desk, input, form) =>
			desk.inFirm(async (tx) => {
				requireStaff(desk.actor, 'countersign');
				const signer = z.string().max(20).optional().parse(form.signer);
				await countersignLetter(tx, desk.actor, {
					itemId: input.itemId,
					sha256: shaSchema.parse(form.sha256),
					signature: signatureSchema.parse({ method: 'typed', name: desk.actor.name }),
					values: await placeValues(tx, input.itemId, form, signer)
				});
			})
		)
};
