import { Readable } from 'node:stream';
import { loadImage, createCanvas } from '@napi-rs/canvas';
import { createTransport } from 'nodemailer';
import { describe, expect, test } from 'vitest';
import { context, useFirm } from '../testing/use-firm';
import { fileInside, readInside } from './paper-inside';

useFirm();

/** 64 by 32 pixels, the left half red, the right half white; written by libheif. */
const HEIC = Buffer.from(
	'AAAAHGZ0eXBoZWljAAAAAG1pZjFoZWljbWlhZgAAAvxtZXRhAAAAAAAAACFoZGxyAAAAAAAAAABwaWN0AAAAAAAAAAAAAAAAAAAAAA5waXRtAAAAAAACAAAAGGlkYXQAAAAAAEAAIAAAAAAAQAAgAAAAYGlsb2MBAAAAREAABAABAAAAAAAAAyAAAQAAAAAAAABMAAIAAQAAAAAAAAABAAAAAAAAAAgAAwAAAAAAAANsAAEAAAAAAAAAEwAEAAEAAAAAAAAAAQAAAAgAAAAIAAAAYmlpbmYAAAAAAAQAAAAVaW5mZQIAAAEAAQAAaHZjMQAAAAAVaW5mZQIAAAAAAgAAZ3JpZAAAAAAVaW5mZQIAAAEAAwAAaHZjMQAAAAAVaW5mZQIAAAAABAAAZ3JpZAAAAAGxaXBycAAAAYRpcGNvAAAAdmh2Y0MBA3AAAAAAAAAAAAAe8AD8/fj4AAAPAyAAAQAYQAEMAf//A3AAAAMAkAAAAwAAAwAeugJAIQABACpCAQEDcAAAAwCQAAADAAADAB6gIIEFlurkprm4EBAwIAAAAwAgAAADACEiAAEABkQBwXPAiQAAABRpc3BlAAAAAAAAAEAAAABAAAAAFGlzcGUAAAAAAAAAQAAAACAAAAAQcGl4aQAAAAADCAgIAAAAcWh2Y0MBBAgAAAAAAAAAAAAe8AD8/Pj4AAAPAyAAAQAXQAEMAf//BAgAAAMAn/gAAAMAAB66AkAhAAEAJkIBAQQIAAADAJ/4AAADAAAewIIEFlurkprmwIAAAAMAgAAAAwCEIgABAAZEAcFzwIkAAAAUaXNwZQAAAAAAAABAAAAAQAAAABRpc3BlAAAAAAAAAEAAAAAgAAAADnBpeGkAAAAAAQgAAAAnYXV4QwAAAAB1cm46bXBlZzpoZXZjOjIwMTU6YXV4aWQ6MQAAAAAlaXBtYQAAAAAAAAAEAAECgQIAAgIDhAADAoUGAAQDB4iJAAAANmlyZWYAAAAAAAAADmRpbWcAAgABAAEAAAAOZGltZwAEAAEAAwAAAA5hdXhsAAQAAQACAAAAZ21kYXQAAABIKAGvWOb06r//7Ku//tr8h8/oX1f/41z1XxBE/6lcVpbd6D/6/F06/QEKIgIGex8JHsGDryIgZ1SADtB56BDdW2kne/imeQawAAAADygBrrC0PLfYfyAwBZ6jgA==',
	'base64'
);

async function mail(): Promise<Buffer> {
	const { message } = await createTransport({ streamTransport: true, buffer: true }).sendMail({
		from: { name: 'Rosalba Finch', address: 'rosalba@thimble.example' },
		to: 'odalys@pennywhistle.example',
		subject: 'Der Mietvertrag für März',
		date: new Date('2026-03-29T01:30:00Z'),
		text: 'Hello Odalys,\n\nhere is the lease.\n',
		attachments: [
			{ filename: 'lease.pdf', content: '%PDF-1.7 lease' },
			{ filename: 'run.exe', content: Buffer.from('MZ\0\0') }
		]
	});
	return message as Buffer;
}
const open = async (name: string, bytes: Buffer) => readInside({ name, bytes: bytes.length }, Readable.from([bytes]));

describe('a mail', () => {
	test('is shown as text with its files, each of which is handed out if a paper may be of its kind', async () => {
		const bytes = await mail();
		expect(await open('lease.eml', bytes)).toMatchObject({
			kind: 'mail',
			from: '"Rosalba Finch" <rosalba@thimble.example>',
			to: 'odalys@pennywhistle.example',
			subject: 'Der Mietvertrag für März',
			at: '2026-03-29T01:30:00.000Z',
			text: expect.stringContaining('here is the lease.'),
			files: [{ name: 'lease.pdf', bytes: 14 }, { name: 'run.exe' }]
		});
		const file = (n: number) => fileInside({ name: 'lease.eml', bytes: bytes.length }, Readable.from([bytes]), n);
		expect(await file(0)).toMatchObject({ name: 'lease.pdf', contentType: 'application/pdf', content: Buffer.from('%PDF-1.7 lease') });
		await expect(file(1)).rejects.toMatchObject({ code: 'unreadable_file' });
		await expect(file(2)).rejects.toMatchObject({ code: 'not_found' });
	});
	test('that is none, or only says HTML, is words all the same; what is too large is not opened', async () => {
		expect(await open('odd.eml', Buffer.from('no head at all'))).toMatchObject({ kind: 'mail', files: [] });
		const html = Buffer.from('Content-Type: text/html\n\n<p>Good <b>morning</b><script>alert(1)</script></p>');
		expect(await open('html.eml', html)).toMatchObject({ text: expect.stringMatching(/^Good morning\s*$/) });
		await expect(readInside({ name: 'big.eml', bytes: 30e6 }, Readable.from(['x']))).rejects.toMatchObject({ code: 'too_many' });
	});
});

describe('a picture of a telephone', () => {
	test('is redrawn as one that every browser shows', async () => {
		const picture = await loadImage(Buffer.from(await context.pdf.heic(HEIC)));
		expect([picture.width, picture.height]).toEqual([64, 32]);
		const drawing = createCanvas(64, 32).getContext('2d');
		drawing.drawImage(picture, 0, 0);
		const [red, green] = drawing.getImageData(16, 16, 1, 1).data;
		expect(red).toBeGreaterThan(150);
		expect(green).toBeLessThan(80);
		expect(drawing.getImageData(48, 16, 1, 1).data[1]).toBeGreaterThan(220);
	});
	test('that is damaged says so', async () => {
		await expect(context.pdf.heic(HEIC.subarray(0, 300))).rejects.toMatchObject({ code: 'unreadable_file' });
		await expect(context.pdf.heic(Buffer.from('no picture at all'))).rejects.toMatchObject({ code: 'unreadable_file' });
	});
});
