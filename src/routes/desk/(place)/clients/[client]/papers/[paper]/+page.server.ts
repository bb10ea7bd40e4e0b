import { z } from 'zod';
import { eventSentence } from '$lib/core/audit/event-words';
import { folderChoiceSchema } from '$lib/core/papers/folders';
import { readPaperPage } from '$lib/server/papers/client-papers';
import { readFolders } from '$lib/server/papers/folders';
import { readKeeping } from '$lib/server/papers/retention';
import { noteField } from '$lib/server/papers/arrivals';
import { bringBackPapers, describePaper, hidePapers, movePapers, putAwayPapers, showPapers } from '$lib/server/papers/shared-papers';
import { deskForm, deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { timeWords } from '$lib/words/dates';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	const clientId = idParam(event.params.client);
	return inPage(() =>
		desk.read(async (tx, firm) => {
			const found = await readPaperPage(tx, desk.actor, clientId, idParam(event.params.paper));
			const when = (at: string) => timeWords(firm.locale, at, firm.calendar.timeZone);
			return {
				...found,
				...(await readFolders(tx, desk.actor, clientId)),
				keeping: await readKeeping(tx, desk.actor, found.paper.id),
				others: found.others.map((other) => ({ ...other, came: when(other.at) })),
				// one that is not among them is none
				beside: found.others.find(({ id }) => id === event.url.searchParams.get('beside')) ?? null,
				came: when(found.paper.at),
				versions: found.versions.map((version) => ({ ...version, came: when(version.at) })),
				history: found.history.map(({ at, by, verb, details }, index) => ({
					key: index,
					at: when(at),
					by,
					words: eventSentence(verb, details)
				}))
			};
		})
	);
};

const ofPaper = (event: { params: { client: string; paper: string } }) => ({
	clientId: idParam(event.params.client),
	paperIds: [idParam(event.params.paper)]
});

export const actions = {
	describe: (event) =>
		deskForm(event, (tx, desk, form) =>
			describePaper(tx, desk.actor, {
				clientId: idParam(event.params.client),
				paperId: idParam(event.params.paper),
				name: z.string().max(180, 'Please keep the name to 180 characters.').parse(form.get('name')),
				note: noteField.parse(String(form.get('note') ?? ''))
			})
		),
	move: (event) =>
		deskForm(event, (tx, desk, form) =>
			movePapers(tx, desk.actor, { ...ofPaper(event), folder: folderChoiceSchema.parse(form.get('folder') ?? '') })
		),
	show: (event) => deskForm(event, (tx, desk) => showPapers(tx, desk.actor, { ...ofPaper(event), tell: true })),
	showQuietly: (event) => deskForm(event, (tx, desk) => showPapers(tx, desk.actor, { ...ofPaper(event), tell: false })),
	hide: (event) => deskForm(event, (tx, desk) => hidePapers(tx, desk.actor, ofPaper(event))),
	putAway: (event) => deskForm(event, (tx, desk) => putAwayPapers(tx, desk.actor, ofPaper(event))),
	bringBack: (event) => deskForm(event, (tx, desk) => bringBackPapers(tx, desk.actor, ofPaper(event)))
};
