import { Readable } from 'node:stream';
import { PDFDocument, rgb } from '@cantoo/pdf-lib';
import fontkit from '@cantoo/fontkit';
import type { AppContext } from '../src/lib/server/context/app-context';
import { fontBytes } from '../src/lib/server/platform/pdf/fonts';
import { givePaper } from '../src/lib/server/papers/shared-papers';
import { readPaper } from '../src/lib/server/statements/read-paper';
import { bringInTransactions } from '../src/lib/server/transactions/transaction-files';
import type { QuestionStage } from './questionnaires';

type ReceiptsStage = Pick<QuestionStage, 'firmId' | 'at' | 'on' | 'as' | 'clientOf'> & {
	context: Pick<AppContext, 'db' | 'papers' | 'pdf' | 'lines'>;
};

const CLIENT = 'Brine & Barrow Oysters';
const LEDGER = 'ledger-march.csv';
/** What a ledger has of March; the last cell is its document, mostly none. */
const LINES = [
	['2026-03-03', 'Ropewalk Supplies', 'Invoice RS-2291', 'Gear', '-318.60', ''],
	['2026-03-05', 'North Mole Ice', 'Pre-authorised', 'Supplies', '-75.00', ''],
	['2026-03-09', 'Seabright Fuel', 'Card', 'Vehicle', '-96.30', 'fuel-0903.pdf'],
	['2026-03-12', 'Puffin Print & Sign', 'Card', 'Advertising', '-148.35', ''],
	['2026-03-16', 'Harbour Hardware', 'Card', 'Repairs', '-61.80', ''],
	['2026-03-19', 'Quay Refrigeration', 'Invoice 40718', 'Repairs', '-1284.50', ''],
	['2026-03-23', 'Seabright Fuel', 'Card', 'Vehicle', '-102.15', ''],
	['2026-03-27', 'Lantern Inn', 'Card', 'Travel', '-88.00', '']
] as const;
/** Receipts and invoices that are here by then: by, about, day as it is printed, sum, and what the file is called. */
const RECEIPTS = [
	['Ropewalk Supplies', 'Invoice RS-2291 · rope, floats and netting', '2 March 2026', '318.60', 'scan 0031.pdf'],
	['Puffin Print & Sign', 'Banner for the festival', '12 March 2026', '148.35', 'puffin.pdf'],
	['Quay Refrigeration Ltd', 'Invoice 40718 · new compressor', '16 March 2026', '1,284.50', 'scan 0032.pdf'],
	// what it was paid for is not said, and it is of no day
	['Harbour Hardware', 'Counter sale', 'thank you', '61.80', 'till slip.pdf']
] as const;

async function receipt([by, about, day, sum]: (typeof RECEIPTS)[number]): Promise<Uint8Array> {
	const document = await PDFDocument.create();
	document.registerFontkit(fontkit);
	const [regular, bold] = [
		await document.embedFont(fontBytes('serif'), { subset: true }),
		await document.embedFont(fontBytes('serifBold'), { subset: true })
	];
	const page = document.addPage([420, 300]);
	page.drawText(by, { x: 40, y: 240, size: 18, font: bold, color: rgb(0.24, 0.2, 0.16) });
	page.drawText(about, { x: 40, y: 206, size: 11, font: regular });
	page.drawText(day, { x: 40, y: 186, size: 11, font: regular });
	page.drawLine({ start: { x: 40, y: 120 }, end: { x: 380, y: 120 }, thickness: 0.5, color: rgb(0.6, 0.55, 0.5) });
	page.drawText('Total', { x: 40, y: 96, size: 12, font: bold });
	const total = `$ ${sum}`;
	page.drawText(total, { x: 380 - bold.widthOfTextAtSize(total, 12), y: 96, size: 12, font: bold });
	return document.save();
}

/** A ledger whose lines are without documents, and papers of which some belong to them. */
export function playReceipts({ context, firmId, at, on, as, clientOf }: ReceiptsStage): void {
	at(on('2026-04-30'), '11:20', async () => {
		const client = await clientOf(CLIENT);
		if (!client) return;
		for (const one of RECEIPTS) {
			const { id } = await givePaper(context, firmId, as('ferrin'), {
				clientId: client.id,
				name: one[4],
				content: Readable.from([Buffer.from(await receipt(one))]),
				folder: null,
				showing: 'no'
			});
			await readPaper(context, firmId, id);
		}
		await bringInTransactions(context, firmId, as('ferrin'), {
			clientId: client.id,
			accountId: null,
			name: LEDGER,
			content: Readable.from([Buffer.from(['Date,Payee,Description,Category,Amount,Receipt', ...LINES.map((cells) => cells.join(','))].join('\n'))])
		});
	});
}
