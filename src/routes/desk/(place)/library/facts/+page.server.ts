import { z } from 'zod';
import { factFormSchema } from '$lib/core/facts/fact-form';
import { guessKind } from '$lib/core/facts/guess-kind';
import { TAX_NUMBER_CHECKS } from '$lib/core/facts/tax-numbers';
import { may } from '$lib/core/people/roles';
import { oneLine } from '$lib/core/people/plain-fields';
import { addFact, changeFact, mergeFacts, orderFacts, previewFactMerge, readFactRows, retireFact } from '$lib/server/facts/change-facts';
import { deskForm, deskRequest } from '$lib/web/desk-request';
import { inPage, jsonField } from '$lib/web/form-errors';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	return inPage(() =>
		desk.read(async (tx, firm) => ({
			facts: await readFactRows(tx, desk.actor),
			currency: firm.currency,
			checks: TAX_NUMBER_CHECKS,
			mayKeep: may(desk.actor.role, 'keep_library'),
			mayMerge: may(desk.actor.role, 'close_client')
		}))
	);
};

const nameField = z.string().max(60);
const addSchema = z.object({ label: oneLine('what you want to know', 60), heading: oneLine('the heading it stands under', 60) });
const mergeSchema = z.object({ from: nameField, into: nameField });

export const actions = {
	/** A fact by its name alone: how it is written down is told from the words, and can be changed. */
	add: (event) =>
		deskForm(event, async (tx, desk, form, firm) => {
			const { label, heading } = addSchema.parse(Object.fromEntries(form));
			const name = await addFact(tx, desk.actor, {
				label,
				heading,
				hint: '',
				is: guessKind(label, firm.currency),
				clientMay: 'correct',
				seenBy: 'all',
				secret: false,
				confirmAfter: null
			});
			return { name };
		}),
	change: (event) =>
		deskForm(event, async (tx, desk, form) => {
			const fact = factFormSchema.parse(jsonField(form, 'fact', 60_000, 'It did not arrive whole. What you wrote is still here; please try again.'));
			await changeFact(tx, desk.actor, nameField.parse(form.get('name')), fact);
		}),
	retire: (event) => deskForm(event, (tx, desk, form) => retireFact(tx, desk.actor, nameField.parse(form.get('name')), true)),
	takeUp: (event) => deskForm(event, (tx, desk, form) => retireFact(tx, desk.actor, nameField.parse(form.get('name')), false)),
	order: (event) => deskForm(event, (tx, desk, form) => orderFacts(tx, desk.actor, z.array(nameField).max(500).parse(form.getAll('name')))),
	previewMerge: (event) =>
		deskForm(event, async (tx, desk, form) => {
			const { from, into } = mergeSchema.parse(Object.fromEntries(form));
			return { preview: await previewFactMerge(tx, desk.actor, from, into) };
		}),
	merge: (event) =>
		deskForm(event, (tx, desk, form) => {
			const { from, into } = mergeSchema.parse(Object.fromEntries(form));
			return mergeFacts(tx, desk.actor, from, into);
		})
};
