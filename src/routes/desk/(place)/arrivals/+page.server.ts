import { z } from 'zod';
import { may } from '$lib/core/people/roles';
import { ruleWordsField } from '$lib/core/arrivals/keeping-rules';
import { folderNameField } from '$lib/core/papers/folders';
import { readProposedFolders } from '$lib/server/papers/folders';
import { dealWithArrivals, nameArrivals, readArrivalsWithPlaces, readDealtArrivals } from '$lib/server/papers/arrivals';
import { askRuleEarlier, changeKeepingRule, endFilingRule, readFilingRules, tryFilingRule } from '$lib/server/papers/filing-rules';
import { isOnlyMine } from '$lib/server/rounds/read-rounds';
import { deskForm, deskRequest } from '$lib/web/desk-request';
import { idParam } from '$lib/web/form-errors';
import { dayOf, timeWords } from '$lib/words/dates';

const SHOWN = 200;

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	return desk.read(async (tx, firm) => {
		const words = (at: string) => timeWords(firm.locale, at, firm.calendar.timeZone);
		const mineOf = (await isOnlyMine(tx, desk.actor)) ? desk.actor.id : null;
		return {
			waiting: (await readArrivalsWithPlaces(tx, SHOWN, mineOf)).map((one) => ({
				...one,
				came: words(one.sentAt),
				cameOn: dayOf(one.sentAt, firm.calendar.timeZone)
			})),
			dealt: (await readDealtArrivals(tx, desk.actor)).map((one) => ({ ...one, came: words(one.sentAt) })),
			itself: await readFilingRules(tx, desk.actor),
			folders: (await readProposedFolders(tx, desk.actor)).map(({ name }) => name),
			mayFile: may(desk.actor.role, 'file_papers')
		};
	});
};

const chosen = z.array(z.uuid(), 'Choose the files first.').min(1, 'Choose the files first.');
const counted = (n: number) => (n === 1 ? 'One file' : `${n} files`);
const ruleOf = (form: FormData) => idParam(String(form.get('ruleId') ?? ''));

export const actions = {
	putAway: (event) =>
		deskForm(event, async (tx, desk, form) => {
			const count = await dealWithArrivals(tx, desk.actor, chosen.parse(form.getAll('paper')));
			return { said: `${counted(count)} put away: no place needed.` };
		}),
	// each goes to the folder of this name of its own client
	keep: (event) =>
		deskForm(event, async (tx, desk, form) => {
			const name = String(form.get('folder') ?? '');
			const count = await dealWithArrivals(tx, desk.actor, chosen.parse(form.getAll('paper')), name ? { name: folderNameField.parse(name) } : null);
			return { said: `${counted(count)} kept${name ? ` in ${name}` : ''}.` };
		}),
	name: (event) =>
		deskForm(event, async (tx, desk, form) => {
			const count = await nameArrivals(tx, desk.actor, chosen.parse(form.getAll('paper')), String(form.get('pattern') ?? '').slice(0, 200));
			return { named: count === 0 ? 'They were called so already.' : `${counted(count)} renamed.` };
		}),
	endRule: (event) => deskForm(event, (tx, desk, form) => endFilingRule(tx, desk.actor, ruleOf(form))),
	earlier: (event) => deskForm(event, (tx, desk, form) => askRuleEarlier(tx, desk.actor, ruleOf(form))),
	changeRule: (event) =>
		deskForm(event, (tx, desk, form) => {
			const name = String(form.get('folder') ?? '').trim();
			const words = ruleWordsField.parse(String(form.get('words') ?? ''));
			return changeKeepingRule(tx, desk.actor, { ruleId: ruleOf(form), words, folder: name ? { name: folderNameField.parse(name) } : null });
		}),
	tryRule: (event) =>
		deskForm(event, async (tx, desk, form) => {
			const ruleId = ruleOf(form);
			return { tried: ruleId, ...(await tryFilingRule(tx, desk.actor, ruleId)) };
		})
};
