import { latestEvent } from '$lib/server/audit/record-event';
import { deskRequest } from '$lib/web/desk-request';

/** Tells a desk screen that something happened in its firm: ids only, the screen then reads what it may see. It ends with the session. */
export const GET = async (event) => {
	const desk = await deskRequest(event);
	const encoder = new TextEncoder();
	let stop = () => {};
	const stream = new ReadableStream({
		async start(controller) {
			controller.enqueue(encoder.encode('retry: 1000\n\n'));
			const unsubscribe = desk.context.live.subscribeToFirm(desk.firmId, (eventId) =>
				controller.enqueue(encoder.encode(`id: ${eventId}\ndata: ${eventId}\n\n`))
			);
			const heartbeat = setInterval(() => controller.enqueue(encoder.encode(': alive\n\n')), 25_000);
			const forget = desk.context.live.whileSignedIn(event.locals.sessions, () => stop());
			stop = () => {
				clearInterval(heartbeat);
				unsubscribe();
				forget();
				try {
					controller.close();
				} catch {
					// the browser has closed it already
				}
			};
			// the parts of a page are read side by side: what happened while they were may be in one of them and not in another
			const { id, justNow } = await desk.inFirm((tx) => latestEvent(tx, desk.actor.now));
			controller.enqueue(encoder.encode(`id: ${id}\ndata: ${id}${justNow ? ' just now' : ''}\n\n`));
		},
		cancel() {
			stop();
		}
	});
	return new Response(stream, { headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' } });
};
