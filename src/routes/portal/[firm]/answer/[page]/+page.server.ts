import { redirect, type RequestEvent } from '@sveltejs/kit';
import { languageField } from '$lib/core/people/language-field';
import { minutesOf } from '$lib/core/items/which-apply';
import { findOpenPage, openingOf, takePublicAnswer } from '$lib/server/public-pages/answer-page';
import { firmOfPortal } from '$lib/web/desk-request';
import { inForm, inPage, typedForm } from '$lib/web/form-errors';

/** What anybody sees who has the address; nothing that is known of anybody. */
export const load = async (event) => {
	const { context, firm, locale } = await firmOfPortal(event);
	const { actor } = event.locals;
	return inPage(async () => {
		await context.limits.publicPageOpened(actor.ip);
		const { id, title, version, questions, withFiles, who, sites } = await context.db.inFirm(firm.id, (tx) =>
			findOpenPage(tx, actor, event.params.page)
		);
		event.locals.frameSites = sites;
		return {
			title,
			version,
			questions,
			withFiles,
			who,
			minutes: minutesOf(questions),
			opening: openingOf(id, actor.now, context.settings.SECRET_KEY),
			now: actor.now,
			framed: isFramed(event)
		};
	}, locale);
};

/** Whether the page stands in a frame of another website, without the firm's head around it. */
const isFramed = ({ url }: Pick<RequestEvent, 'url'>) => url.searchParams.get('shown') === 'frame';

export const actions = {
	send: async (event) => {
		const { context, firm, locale } = await firmOfPortal(event);
		const { actor } = event.locals;
		const form = await event.request.formData();
		return inForm(
			form,
			async () => {
				const receipt = await takePublicAnswer({ ...context, secretKey: context.settings.SECRET_KEY }, firm.id, actor, {
					name: event.params.page,
					typed: typedForm(form),
					locale: languageField.parse(locale)
				});
				redirect(303, `/portal/${firm.slug}/answer/${event.params.page}/sent/${receipt}${isFramed(event) ? '?shown=frame' : ''}`);
			},
			locale
		);
	}
};
