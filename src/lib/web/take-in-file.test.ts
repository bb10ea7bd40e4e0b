import { expect, test } from 'vitest';
import { DomainError } from '$lib/core/errors/domain-error';
import { takeInFile } from './take-in-file';

/** A body of a few chunks that knows how much of it was read. */
function body(chunks: number): { stream: ReadableStream<Uint8Array>; read: () => number; cancelled: () => boolean } {
	let [read, cancelled] = [0, false];
	const stream = new ReadableStream<Uint8Array>({
		pull(controller) {
			if (read === chunks) return controller.close();
			read++;
			controller.enqueue(new Uint8Array(64 * 1024));
		},
		cancel: () => void (cancelled = true)
	});
	return { stream, read: () => read, cancelled: () => cancelled };
}
const request = (stream: ReadableStream<Uint8Array>, name = 'lease.pdf') => ({
	request: new Request('http://x.example/papers', { method: 'POST', body: stream, duplex: 'half', headers: { 'x-file-name': name } } as RequestInit),
	route: { id: '/desk/attachments' as const }
});

test('a file that is refused while it comes is read to its end, so that whoever sends it hears why', async () => {
	const { stream, read, cancelled } = body(40);
	const answer = await takeInFile(request(stream), 'en', 'No file.', async ({ content }) => {
		content.once('data', () => content.destroy());
		await new Promise((resolve) => content.once('close', resolve));
		throw new DomainError('storage_full', 'There is no room.');
	});
	expect([answer.status, await answer.json()]).toEqual([507, { message: 'There is no room.' }]);
	expect([read(), cancelled()]).toEqual([40, false]);
});
test('a name that is none is refused', async () => {
	expect((await takeInFile(request(body(1).stream, '%E0%A4%A'), 'en', 'No file.', async () => ({}))).status).toBe(400);
});
