import { PUBLIC_FILE_MAX_BYTES } from '$lib/core/public-pages/public-page';
import { DomainError } from '$lib/core/errors/domain-error';
import { askForAnswerCode, confirmAddress, findOpenPage, readReceipt } from '$lib/server/public-pages/answer-page';
import { readFilesWanted, removePublicFile } from '$lib/server/public-pages/public-files';
import { firmOfPortal } from '$lib/web/desk-request';
import { idParam, inForm, inPage } from '$lib/web/form-errors';
import { saying } from '$lib/words/sayings';

export const load = async (event) => {
	const { context, firm, locale } = await firmOfPortal(event);
	const { actor } = event.locals;
	return inPage(
		() =>
			context.db.inFirm(firm.id, async (tx) => {
				const receipt = await readReceipt(tx, actor, event.params.receipt);
				event.locals.frameSites = await findOpenPage(tx, actor, event.params.page).then(
					({ sites }) => sites,
					() => []
				);
				const { title, thanks, email, codeAsked, confirmed } = receipt;
				const { questions, files } = await readFilesWanted(tx, actor, event.params.receipt);
				const wanted = questions.map(({ key, title: words, help, answer }) => ({ key, words, help, accepts: answer.accepts }));
				const framed = event.url.searchParams.get('shown') === 'frame';
				return { title, thanks, email, codeAsked, confirmed, wanted, files, mostBytes: PUBLIC_FILE_MAX_BYTES, framed };
			}),
		locale
	);
};

export const actions = {
	askForCode: async (event) => {
		const { context, firm, locale } = await firmOfPortal(event);
		const form = await event.request.formData();
		return inForm(
			form,
			async () => {
				await context.db.inFirm(firm.id, (tx) => askForAnswerCode(context, tx, event.locals.actor, event.params.receipt));
				return { done: true };
			},
			locale
		);
	},
	removePaper: async (event) => {
		const { context, firm, locale } = await firmOfPortal(event);
		const form = await event.request.formData();
		return inForm(
			form,
			async () => {
				const fileId = idParam(String(form.get('paperId') ?? ''));
				await removePublicFile(context, firm.id, event.locals.actor, { receipt: event.params.receipt, fileId });
				return { done: true };
			},
			locale
		);
	},
	confirm: async (event) => {
		const { context, firm, locale } = await firmOfPortal(event);
		const form = await event.request.formData();
		return inForm(
			form,
			async () => {
				const code = String(form.get('code') ?? '').slice(0, 40);
				const right = await context.db.inFirm(firm.id, (tx) => confirmAddress(tx, event.locals.actor, event.params.receipt, code));
				if (!right) throw new DomainError('invalid', saying('wrong.public.code'), { code: saying('wrong.public.code') });
				return { done: true };
			},
			locale
		);
	}
};
