import { openHouse, type House } from './house';
import { hasFirm, setUpCode } from './firms/set-up-firm';
import { listenForEvents } from './platform/live/live-updates';
import { roleOptions } from './platform/db/database';
import { log } from './platform/log';
import { settings } from './platform/settings';

export type AppHouse = House & { live: ReturnType<typeof listenForEvents> };

let opening: Promise<AppHouse> | undefined;

/** The app process's house: opened at start, closed gracefully when the server has stopped. */
export function house(): Promise<AppHouse> {
	opening ??= open();
	return opening;
}

async function open(): Promise<AppHouse> {
	const given = settings();
	const opened = await openHouse(given);
	if (!(await hasFirm(opened.db)))
		log.warn({ open: `${given.ORIGIN}/desk/set-up?code=${setUpCode(given.SECRET_KEY)}` }, 'there is no firm yet: open this address to set it up');
	const live = listenForEvents(roleOptions(given, 'lantern_app'));
	process.on('lantern:stopping', () => live.endStreams());
	process.on('sveltekit:shutdown', async () => {
		await live.close();
		await opened.close();
		log.info('app stopped');
	});
	return { ...opened, live };
}
