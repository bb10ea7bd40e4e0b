import fontkit from '@cantoo/fontkit';
import { degrees, PDFDocument, rgb } from '@cantoo/pdf-lib';
import { fontBytes } from '../src/lib/server/platform/pdf/fonts';

const LINES = [
	'Rope Walk Chandlery',
	'Gullhaven Post',
	'Ripstop & Reed Ltd',
	'Harbour Fuel',
	'Tideline Insurance',
	'Payment, thank you',
	'Market stall, Saturday',
	'Lamp oil & wicks'
];

/** What somebody laid into their scanner in one go: pages of two papers, the empty back of one, and one the wrong way up. */
export async function demoScan(owner: string): Promise<Uint8Array> {
	const scan = await PDFDocument.create();
	const lay = async (bank: string, title: string, seed: number, turned = 0) => {
		const [page] = await scan.copyPages(await PDFDocument.load(await demoStatement(title, owner, seed, bank)), [0]);
		scan.addPage(page).setRotation(degrees(turned));
	};
	await lay('Provincial Revenue Office', 'Notice of assessment', 20);
	await lay('Provincial Revenue Office', 'Notice of assessment, second page', 21);
	scan.addPage([612, 500]);
	await lay('Tideline Insurance', 'Premium of the shop, 2026', 22, 180);
	return scan.save();
}

/** A made-up statement as PDF, so that there is something to look at in the demo. */
export async function demoStatement(title: string, owner: string, seed: number, bank = 'Tideline Savings'): Promise<Uint8Array> {
	const document = await PDFDocument.create();
	document.registerFontkit(fontkit);
	const regular = await document.embedFont(fontBytes('serif'), { subset: true });
	const bold = await document.embedFont(fontBytes('serifBold'), { subset: true });
	const page = document.addPage([612, 500]);
	page.drawText(bank, { x: 56, y: 440, size: 20, font: bold, color: rgb(0.07, 0.28, 0.35) });
	page.drawText(`${title} · ${owner}`.slice(0, 80), { x: 56, y: 415, size: 11, font: regular });
	let balance = 120_000 + seed * 37;
	LINES.forEach((line, i) => {
		const amount = ((seed * (i + 3) * 97) % 40_000) - 14_000;
		balance += amount;
		const y = 370 - i * 30;
		page.drawText(`${1 + i * 3} ${['Feb', 'Mar', 'Apr'][seed % 3]}`, { x: 56, y, size: 11, font: regular });
		page.drawText(line, { x: 120, y, size: 11, font: regular });
		const text = (amount / 100).toFixed(2);
		page.drawText(text, { x: 540 - regular.widthOfTextAtSize(text, 11), y, size: 11, font: regular });
		page.drawLine({ start: { x: 56, y: y - 9 }, end: { x: 548, y: y - 9 }, thickness: 0.5, color: rgb(0.85, 0.8, 0.7) });
	});
	page.drawText('Closing balance', { x: 120, y: 110, size: 11, font: bold });
	const closing = (balance / 100).toFixed(2);
	page.drawText(closing, { x: 540 - bold.widthOfTextAtSize(closing, 11), y: 110, size: 11, font: bold });
	return document.save();
}

/** A made-up agreement as PDF, with lines to sign on for each of those who sign it. */
export async function demoAgreement(title: string, paragraphs: readonly string[], signers: readonly string[]): Promise<Uint8Array> {
	const document = await PDFDocument.create();
	document.registerFontkit(fontkit);
	const regular = await document.embedFont(fontBytes('serif'), { subset: true });
	const bold = await document.embedFont(fontBytes('serifBold'), { subset: true });
	let page = document.addPage([612, 792]);
	let y = 716;
	page.drawText(title, { x: 72, y, size: 18, font: bold, color: rgb(0.07, 0.28, 0.35) });
	y -= 40;
	const line = (text: string, font = regular, x = 72) => page.drawText(text, { x, y, size: 11, font });
	for (const [at, paragraph] of paragraphs.entries()) {
		let words = `${at + 1}.`;
		for (const word of paragraph.split(' ')) {
			if (regular.widthOfTextAtSize(`${words} ${word}`, 11) > 468) {
				line(words);
				y -= 17;
				words = '    ';
			}
			words += ` ${word}`;
		}
		line(words);
		y -= 28;
	}
	if (y < 110 + signers.length * 84) {
		page = document.addPage([612, 792]);
		y = 716;
	}
	for (const signer of signers) {
		line(signer, bold);
		y -= 44;
		line('Signature: ______________________________');
		line('Date: ______________', regular, 390);
		y -= 40;
	}
	return document.save();
}
