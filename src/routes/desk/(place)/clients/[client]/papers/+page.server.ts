import { z } from 'zod';
import { folderChoiceSchema } from '$lib/core/papers/folders';
import { readPapers } from '$lib/server/papers/client-papers';
import { readFolders } from '$lib/server/papers/folders';
import { requireStaff } from '$lib/server/actor';
import { bringBackPapers, hidePapers, joinPapers, movePapers, putAwayPapers, renamePapers, showPapers } from '$lib/server/papers/shared-papers';
import type { Tx } from '$lib/server/platform/db/database';
import type { Actor } from '$lib/server/actor';
import { deskForm, deskRequest } from '$lib/web/desk-request';
import { idParam, inForm, inPage } from '$lib/web/form-errors';
import { papersQuery } from '$lib/web/papers-query';
import { dayOf, timeWords } from '$lib/words/dates';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	const id = idParam(event.params.client);
	const query = papersQuery(event.url.searchParams);
	return inPage(() =>
		desk.read(async (tx, firm) => {
			const { papers, more } = await readPapers(tx, desk.actor, { clientId: id, ...query });
			return {
				query,
				more,
				...(await readFolders(tx, desk.actor, id)),
				papers: papers.map((paper) => ({
					...paper,
					came: timeWords(firm.locale, paper.at, firm.calendar.timeZone),
					cameOn: dayOf(paper.at, firm.calendar.timeZone)
				}))
			};
		})
	);
};

const counted = (n: number) => (n === 1 ? 'One paper' : `${n} papers`);
const chosen = z.array(z.uuid(), 'Choose the papers first.').min(1, 'Choose the papers first.');

/** Does something with the papers that are ticked, and says in words what came of it. */
const withChosen = (
	event: Parameters<typeof deskForm>[0] & { params: { client: string } },
	work: (tx: Tx, actor: Actor, papers: { clientId: string; paperIds: string[] }, form: FormData) => Promise<string>
) =>
	deskForm(event, async (tx, desk, form) => ({
		said: await work(tx, desk.actor, { clientId: idParam(event.params.client), paperIds: chosen.parse(form.getAll('paper')) }, form)
	}));

async function show(tx: Tx, actor: Actor, papers: { clientId: string; paperIds: string[] }, tell: boolean): Promise<string> {
	const { shown, closed } = await showPapers(tx, actor, { ...papers, tell });
	if (shown === 0) return 'The client saw all of them already.';
	const closedWords =
		closed > 0 ? ` ${counted(closed)} of these ${closed === 1 ? 'lies' : 'lie'} in a folder that is ours only, so they still do not see it.` : '';
	return `${counted(shown)} shown.${closed < shown ? (tell ? ' They are told with the day’s message.' : ' Nobody is told of it.') : ''}${closedWords}`;
}

export const actions = {
	show: (event) => withChosen(event, (tx, actor, papers) => show(tx, actor, papers, true)),
	showQuietly: (event) => withChosen(event, (tx, actor, papers) => show(tx, actor, papers, false)),
	hide: (event) =>
		withChosen(event, async (tx, actor, papers) => {
			const hidden = await hidePapers(tx, actor, papers);
			return hidden === 0 ? 'The client did not see any of them.' : `${counted(hidden)} hidden again.`;
		}),
	move: (event) =>
		withChosen(event, async (tx, actor, papers, form) => {
			const moved = await movePapers(tx, actor, { ...papers, folder: folderChoiceSchema.parse(form.get('folder') ?? '') });
			return moved === 0 ? 'They lay there already.' : `${counted(moved)} moved.`;
		}),
	rename: (event) =>
		withChosen(event, async (tx, actor, papers, form) => {
			const renamed = await renamePapers(tx, actor, { ...papers, pattern: String(form.get('pattern') ?? '').slice(0, 200) });
			return renamed === 0 ? 'They were called so already.' : `${counted(renamed)} renamed.`;
		}),
	// what is joined is read and written outside of the transaction: it may be much
	join: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			requireStaff(desk.actor, 'file_papers');
			const { id, name, pages } = await joinPapers(
				desk.context,
				desk.firmId,
				desk.actor,
				{
					clientId: idParam(event.params.client),
					paperIds: chosen.parse(form.getAll('paper')),
					name: z.string().max(160, 'Please keep the name to 160 characters.').parse(form.get('name'))
				},
				Boolean(desk.context.settings.CLAMD)
			);
			return { done: true, said: `Joined to ${name}, ${pages} pages with its contents. It is ours only.`, made: id };
		});
	},
	putAway: (event) =>
		withChosen(event, async (tx, actor, papers) => {
			const away = await putAwayPapers(tx, actor, papers);
			return away === 0
				? 'They were put away already.'
				: `${counted(away)} put away. The client does not see ${away === 1 ? 'it' : 'them'} any more.`;
		}),
	bringBack: (event) =>
		withChosen(event, async (tx, actor, papers) => {
			const back = await bringBackPapers(tx, actor, papers);
			return back === 0 ? 'None of them was put away.' : `${counted(back)} back, for us only.`;
		})
};
