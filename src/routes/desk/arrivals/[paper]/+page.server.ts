import { redirect } from '@sveltejs/kit';
import { deskForm } from '$lib/web/desk-request';
import { idParam } from '$lib/web/form-errors';
import { folderChoiceSchema } from '$lib/core/papers/folders';
import { letMailIn, turnMailAway } from '$lib/server/papers/papers-by-mail';
import { makeFilingRule, makeKeepingRule } from '$lib/server/papers/filing-rules';
import { ruleWordsField } from '$lib/core/arrivals/keeping-rules';
import { fileArrival, placeSchema, keepArrival, putAwayArrival, unfileArrival } from '$lib/server/papers/arrivals';

export const load = (event) => redirect(303, `/desk/rounds/arrival-${idParam(event.params.paper)}`);

export const actions = {
	file: (event) =>
		deskForm(event, async (tx, desk, form) => {
			const { always, ...place } = placeSchema.parse({ itemId: form.get('itemId'), slot: form.get('slot'), always: form.get('always') });
			await fileArrival(tx, desk.actor, { paperId: idParam(event.params.paper), ...place });
			if (always) await makeFilingRule(tx, desk.actor, always);
		}),
	putAway: (event) => deskForm(event, (tx, desk) => putAwayArrival(tx, desk.actor, idParam(event.params.paper))),
	keep: (event) =>
		deskForm(event, async (tx, desk, form) => {
			const paperId = idParam(event.params.paper);
			await keepArrival(tx, desk.actor, paperId, folderChoiceSchema.parse(form.get('folder') ?? ''));
			const words = String(form.get('alwaysWords') ?? '');
			if (form.has('always') && words) await makeKeepingRule(tx, desk.actor, { paperId, words: ruleWordsField.parse(words) });
		}),
	letIn: (event) => deskForm(event, (tx, desk) => letMailIn(tx, desk.actor, idParam(event.params.paper))),
	turnAway: (event) => deskForm(event, (tx, desk) => turnMailAway(tx, desk.actor, idParam(event.params.paper))),
	takeBack: (event) => deskForm(event, (tx, desk) => unfileArrival(tx, desk.actor, idParam(event.params.paper)))
};
