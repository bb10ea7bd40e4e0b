import { redirect } from '@sveltejs/kit';
import { countsInWords } from '$lib/core/practice/clearing';
import { may } from '$lib/core/people/roles';
import { deskForm, deskRequest } from '$lib/web/desk-request';
import { loadFirm } from '$lib/server/firms/firm';
import { inForm } from '$lib/web/form-errors';
import { endSession } from '$lib/server/people/sessions';
import { clearPracticeCookie, setPracticeCookie } from '$lib/web/cookies';
import {
	beginPractice,
	clearPractice,
	clearSchema,
	countPractice,
	enterPractice,
	findPractice,
	readClearings,
	readPractice,
	refillPractice
} from '$lib/server/practice/practice';
import { timeWords } from '$lib/words/dates';

export const load = async (event) => {
	event.depends('desk:live');
	event.depends('desk:practice');
	const desk = await deskRequest(event);
	const inside = event.locals.signedIn!.practiceOf !== null;
	const practice = await (inside ? readPractice : findPractice)(desk.context.db, desk.firmId);
	return {
		inside,
		mayPractise: may(desk.actor.role, 'practise'),
		state: practice?.state ?? null,
		...(practice
			? await desk.context.db.inFirm(practice.id, async (tx) => {
					const { calendar } = await loadFirm(tx);
					return {
						counts: await countPractice(tx),
						clearings: (await readClearings(tx)).map((c) => ({
							id: c.id,
							at: timeWords('en', c.clearedAt, calendar.timeZone),
							by: c.clearedBy,
							what: countsInWords(c.counts)
						}))
					};
				})
			: { counts: null, clearings: [] })
	};
};

export const actions = {
	begin: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			await beginPractice(desk.context.db, desk.firmId, desk.actor, desk.context.settings.SECRET_KEY);
			return { done: true };
		});
	},
	enter: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const { token, expiresAt } = await enterPractice(desk.context.db, desk.firmId, desk.actor);
			setPracticeCookie(event.cookies, token, expiresAt, desk.context.clock.offsetMs());
			redirect(303, '/desk/rounds');
		});
	},
	leave: async (event) => {
		const desk = await deskRequest(event);
		const { signedIn } = event.locals;
		if (signedIn!.practiceOf) await desk.inFirm((tx) => endSession(tx, signedIn!.sessionId, desk.actor.now));
		clearPracticeCookie(event.cookies);
		redirect(303, '/desk/rounds');
	},
	refill: (event) => deskForm(event, (tx, desk) => refillPractice(tx, desk.actor)),
	clear: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const input = clearSchema.parse({ kinds: form.getAll('kind'), sure: form.get('sure') ?? '' });
			return { cleared: countsInWords(await clearPractice(desk.context, desk.firmId, desk.actor, input)) };
		});
	}
};
