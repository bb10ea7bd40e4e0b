import { Readable } from 'node:stream';
import type { AppContext } from '../src/lib/server/context/app-context';
import type { Actor } from '../src/lib/server/actor';
import { noteArrival, takeInArrival } from '../src/lib/server/papers/arrivals';
import { readPaper } from '../src/lib/server/statements/read-paper';
import type { QuestionStage } from './questionnaires';
import { demoStatement } from './demo-papers';

type ArrivalStage = Pick<QuestionStage, 'firmId' | 'at' | 'on' | 'as' | 'inFirm' | 'clientOf'> & {
	context: Pick<AppContext, 'db' | 'papers' | 'pdf'>;
};

/** What clients sent without being asked, when, what stands in it, and what they said of it. */
const ARRIVALS: readonly { day: string; time: string; client: string; name: string; bank: string; title: string; note: string }[] = [
	{
		day: '2026-05-01',
		time: '19:20',
		client: 'The Copper Thimble',
		name: 'scan0012.pdf',
		bank: 'Provincial Revenue Office',
		title: 'Notice of assessment',
		note: 'This came by post. Do I have to do anything?'
	},
	{
		day: '2026-05-03',
		time: '17:05',
		client: 'Foxglove Boatyard',
		name: 'insurance renewal.pdf',
		bank: 'Tideline Insurance',
		title: 'Renewal of the policy for the slipway',
		note: ''
	},
	{
		day: '2026-05-03',
		time: '20:48',
		client: 'Heron & Pike Anglers',
		name: 'bank statement 0430.pdf',
		bank: 'Harbour Union',
		title: 'Account 0020 447710, 1 April to 30 April 2026',
		note: ''
	}
];

/** Three unlike files without a place: one that says where it belongs, one with a word of who sent it, one of which nothing is known. */
export function playArrivals({ context, firmId, at, on, as, inFirm, clientOf }: ArrivalStage): void {
	for (const [n, arrival] of ARRIVALS.entries())
		at(on(arrival.day), arrival.time, async () => {
			const client = await clientOf(arrival.client);
			if (!client) return;
			const contact = await inFirm(firmId, (tx) => tx.first<{ name: string }>('select name from contact where id = $1', [client.contact]));
			const sender: Actor = { ...as('odalys'), kind: 'contact', id: client.contact, name: contact!.name, role: null };
			const content = Readable.from([await demoStatement(arrival.title, arrival.client, 20 + n, arrival.bank)]);
			const { id } = await takeInArrival(context, firmId, sender, { clientId: client.id, name: arrival.name, content });
			if (arrival.note) await inFirm(firmId, (tx) => noteArrival(tx, sender, { paperId: id, note: arrival.note }), client.contact);
			await readPaper(context, firmId, id);
		});
}
