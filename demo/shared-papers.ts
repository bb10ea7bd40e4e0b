import { Readable } from 'node:stream';
import type { AppContext } from '../src/lib/server/context/app-context';
import { openPaper } from '../src/lib/server/papers/papers';
import { changeFolder, changeProposedFolders, firstFolders, readFolders } from '../src/lib/server/papers/folders';
import { holdPapers, keepPapersFor } from '../src/lib/server/papers/retention';
import { givePaper, type Showing } from '../src/lib/server/papers/shared-papers';
import { readPaper } from '../src/lib/server/statements/read-paper';
import { demoStatement } from './demo-papers';
import type { QuestionStage } from './questionnaires';

type PapersStage = Pick<QuestionStage, 'firmId' | 'at' | 'on' | 'as' | 'inFirm' | 'clientOf'> & {
	context: Pick<AppContext, 'db' | 'papers' | 'pdf'>;
};

const OURS = 'Pennywhistle Row Bookkeeping';
/** Folders whose papers are kept longer than others, in years. */
const KEPT: Readonly<Record<string, number>> = { Agreements: 10, 'Year end': 10 };
/** What the firm adds, when, into which folder, and whether the client sees it; of a newer version, what it takes the place of. */
const GIVEN: readonly {
	day: string;
	time: string;
	client: string;
	folder: string;
	name: string;
	title: string;
	showing: Showing;
	newer?: string;
	opened?: true;
}[] = [
	{
		day: '2026-04-14',
		time: '10:05',
		client: 'Gull & String Kites',
		folder: 'Year end',
		name: 'Accounts 2025, draft.pdf',
		title: 'Accounts for 2025, draft',
		showing: 'quietly',
		opened: true
	},
	{
		day: '2026-04-24',
		time: '11:40',
		client: 'Gull & String Kites',
		folder: 'Year end',
		name: 'Accounts 2025.pdf',
		title: 'Accounts for 2025, final',
		showing: 'quietly',
		newer: 'Accounts 2025, draft.pdf',
		opened: true
	},
	{
		day: '2026-04-09',
		time: '09:30',
		client: 'Gull & String Kites',
		folder: 'Tax',
		name: 'Tax return 2025.pdf',
		title: 'Tax return for 2025, as it was filed',
		showing: 'quietly'
	},
	{
		day: '2026-04-09',
		time: '09:34',
		client: 'Gull & String Kites',
		folder: 'Working papers',
		name: 'Depreciation of the workshop.pdf',
		title: 'Depreciation of the workshop, 2025',
		showing: 'no'
	},
	{
		day: '2026-04-21',
		time: '14:50',
		client: 'Gull & String Kites',
		folder: 'Bank',
		name: 'How to export statements.pdf',
		title: 'How to export statements from your bank',
		showing: 'quietly'
	},
	{
		day: '2026-04-14',
		time: '15:10',
		client: 'Foxglove Boatyard',
		folder: 'Tax',
		name: 'Sales tax first quarter.pdf',
		title: 'Sales tax, first quarter 2026',
		showing: 'quietly'
	},
	{
		day: '2026-04-14',
		time: '15:20',
		client: 'Foxglove Boatyard',
		folder: 'Working papers',
		name: 'Slipway, what is capital.pdf',
		title: 'Slipway: what is capital, what is repair',
		showing: 'no'
	}
];

/** Papers that the firm keeps for its clients, and what of it they see. */
export function playSharedPapers({ context, firmId, at, on, as, inFirm, clientOf }: PapersStage): void {
	// a firm that practises need not have one who plays along
	const administrator = () => ({ ...as('tamsin'), role: 'administrator' as const });
	at(on('2026-03-02'), '09:10', async () => {
		const scheme = firstFolders().map((folder) => ({ ...folder, keepYears: KEPT[folder.name] ?? null }));
		await inFirm(firmId, async (tx) => {
			await changeProposedFolders(tx, administrator(), scheme);
			await keepPapersFor(tx, administrator(), 7);
		});
	});
	at(on('2026-04-20'), '15:30', async () => {
		const client = await clientOf('Tidewrack Salvage');
		if (client) await inFirm(firmId, (tx) => holdPapers(tx, administrator(), { clientId: client.id, reason: 'The tax office audits 2019 to 2022' }));
	});
	for (const [n, given] of GIVEN.entries())
		at(on(given.day), given.time, async () => {
			const client = await clientOf(given.client);
			if (!client) return;
			const paperNamed = (name: string) =>
				inFirm(firmId, (tx) => tx.first<{ id: string }>('select id from paper where client_id = $1 and name = $2', [client.id, name]));
			const { id } = await givePaper(context, firmId, as('odalys'), {
				clientId: client.id,
				name: given.name,
				content: Readable.from([await demoStatement(given.title, given.client, 50 + n, OURS)]),
				folder: { name: given.folder },
				showing: given.showing,
				versionOf: given.newer ? (await paperNamed(given.newer))!.id : null
			});
			await readPaper(context, firmId, id);
			if (given.folder === 'Bank') {
				const { folders } = await inFirm(firmId, (tx) => readFolders(tx, as('odalys'), client.id));
				const bank = folders.find(({ name }) => name === 'Bank')!;
				await inFirm(firmId, (tx) => changeFolder(tx, as('odalys'), bank.id, { name: 'Bank', clientMay: 'add', contactIds: null, keepYears: null }));
			}
			if (!given.opened) return;
			const contact = await inFirm(firmId, (tx) => tx.first<{ name: string }>('select name from contact where id = $1', [client.contact]));
			const reader = { ...as('odalys'), kind: 'contact' as const, id: client.contact, name: contact!.name, role: null };
			await inFirm(firmId, (tx) => openPaper(tx, reader, id, 'download'), client.contact);
		});
}
