import { openContext, type AppContext } from '$lib/server/context/app-context';
import { hasFirm, setUpCode } from '$lib/server/set-up/set-up-firm';
import { listenForEvents } from '$lib/server/platform/live/live-updates';
import { roleOptions } from '$lib/server/platform/db/database';
import { log } from '$lib/server/platform/log';
import { uploadsFolder } from '$lib/server/papers/unfinished-uploads';
import { settings } from '$lib/server/platform/settings';
import { resumableUploads, type ResumableUploads } from './resumable-uploads';

/** What the web application works with: the context of any process, the events for open pages, and the uploads under way. */
export type WebContext = AppContext & { live: ReturnType<typeof listenForEvents>; uploads: ResumableUploads };

let opening: Promise<WebContext> | undefined;

/** The web application's context: opened on the first call, closed when the server has stopped. */
export function webContext(): Promise<WebContext> {
	opening ??= open();
	return opening;
}

async function open(): Promise<WebContext> {
	const given = settings();
	const opened = await openContext(given);
	if (!(await hasFirm(opened.db)))
		log.warn({ open: `${given.ORIGIN}/desk/set-up?code=${setUpCode(given.SECRET_KEY)}` }, 'there is no firm yet: open this address to set it up');
	const live = listenForEvents(roleOptions(given, 'lantern_app'));
	process.on('lantern:stopping', () => live.endStreams());
	process.on('sveltekit:shutdown', async () => {
		await live.close();
		await opened.close();
		log.info('app stopped');
	});
	return { ...opened, live, uploads: resumableUploads(uploadsFolder(given.PAPERS_FOLDER)) };
}
