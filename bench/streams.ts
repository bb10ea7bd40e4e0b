import { request, type ClientRequest } from 'node:http';

const origin = process.env.ORIGIN!;

/** Opens streams of one desk. @returns what closes them, and how many events came over all of them */
export async function openStreams(cookie: string, count: number): Promise<{ close(): void; events(): number }> {
	const streams: ClientRequest[] = [];
	let events = 0;
	for (let i = 0; i < count; i += 50)
		await Promise.all(
			Array.from(
				{ length: 50 },
				() =>
					new Promise<void>((resolve, reject) => {
						const stream = request(`${origin}/desk/live`, { headers: { cookie } }, (answer) => {
							answer.on('data', (text: Buffer) => (events += text.toString().split('data: ').length - 1));
							answer.once('data', () => resolve());
						});
						stream.on('error', reject);
						stream.end();
						streams.push(stream);
					})
			)
		);
	return {
		close() {
			for (const stream of streams) {
				stream.removeAllListeners('error').on('error', () => undefined);
				stream.destroy();
			}
		},
		events: () => events
	};
}
