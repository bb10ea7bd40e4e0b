import { redirect } from '@sveltejs/kit';
import { pagePlanSchema } from '$lib/core/papers/page-plan';
import { arrangePages, readPagedPapers } from '$lib/server/papers/arrange-pages';
import { requireStaff } from '$lib/server/actor';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inForm, inPage, jsonField } from '$lib/web/form-errors';

export const load = async (event) => {
	const desk = await deskRequest(event);
	return inPage(() => desk.read((tx) => readPagedPapers(tx, desk.actor, idParam(event.params.paper))));
};

/** What a plan of 500 pages may need. */
const PLAN_LETTERS_MOST = 100_000;

export const actions = {
	default: async (event) => {
		const form = await event.request.formData();
		const made = await inForm(form, async () => {
			const desk = await deskRequest(event);
			requireStaff(desk.actor, 'file_papers');
			idParam(event.params.paper);
			const plan = pagePlanSchema.parse(jsonField(form, 'plan', PLAN_LETTERS_MOST, 'It did not arrive whole. Please try again.'));
			return arrangePages(desk.context, desk.firmId, desk.actor, plan, Boolean(desk.context.settings.CLAMD));
		});
		if (!Array.isArray(made)) return made;
		redirect(303, `/desk/rounds/arrival-${made[0]}`);
	}
};
