import pg from 'pg';
import { errorForLog, log } from '../log';

/** Who listens to one firm, and the last event that they have not been told of. */
interface FirmListeners {
	listeners: Set<(eventId: number) => void>;
	resting: boolean;
	last: number | null;
}

/** How long what follows is gathered, in milliseconds. */
const GATHERED_MS = 400;

function tell(firm: FirmListeners, eventId: number): void {
	if (firm.resting) {
		firm.last = eventId;
		return;
	}
	firm.resting = true;
	for (const listener of firm.listeners) listener(eventId);
	setTimeout(() => {
		firm.resting = false;
		const { last } = firm;
		firm.last = null;
		if (last !== null) tell(firm, last);
	}, GATHERED_MS).unref();
}

export interface LiveUpdates {
	/**
	 * Hears that something happened in a firm: at once, and of what follows within a moment together, by its last event. A screen waits until it is
	 * quiet before it reads anew, which it would never be where it is told of each of ten events a second.
	 * @returns takes that back
	 */
	subscribeToFirm(firmId: string, listener: (eventId: number) => void): () => void;
	/** Calls `ended` once one of the sessions is over, or the process stops. @returns takes that back */
	whileSignedIn(sessions: readonly string[], ended: () => void): () => void;
	/** Ends what goes on while somebody is signed in: the process stops. */
	endStreams(): void;
	close(): Promise<void>;
}

/** Hears of every event of every firm, and of every session that ends, over one LISTEN connection, re-opened when it breaks. */
export function listenForEvents(config: pg.ClientConfig): LiveUpdates {
	const firms = new Map<string, FirmListeners>();
	const streams = new Map<string, Set<() => void>>();
	let closed = false;
	let client: pg.Client | undefined;

	const connect = async () => {
		client = new pg.Client(config);
		client.on('error', (error) => log.warn(errorForLog(error), 'live connection failed'));
		client.on('end', () => {
			if (!closed) setTimeout(open, 300).unref();
		});
		client.on('notification', ({ channel, payload }) => {
			if (channel === 'lantern_sessions') {
				for (const ended of [...(streams.get(payload ?? '') ?? [])]) ended();
				return;
			}
			const [firmId, eventId] = (payload ?? '').split(' ');
			const firm = firms.get(firmId);
			if (firm) tell(firm, Number(eventId));
		});
		await client.connect();
		await client.query('listen lantern_events; listen lantern_sessions');
	};
	const open = () => {
		connect().catch((error) => {
			log.warn(errorForLog(error), 'live connection not opened');
			client?.end().catch(() => undefined);
		});
	};
	open();

	return {
		subscribeToFirm(firmId, listener) {
			const firm = firms.get(firmId) ?? { listeners: new Set(), resting: false, last: null };
			firms.set(firmId, firm);
			firm.listeners.add(listener);
			return () => {
				firm.listeners.delete(listener);
				if (firm.listeners.size === 0 && firms.get(firmId) === firm) firms.delete(firmId);
			};
		},
		whileSignedIn(sessions, ended) {
			for (const session of sessions) streams.set(session, (streams.get(session) ?? new Set()).add(ended));
			return () => {
				for (const session of sessions) {
					const open = streams.get(session);
					open?.delete(ended);
					if (open?.size === 0) streams.delete(session);
				}
			};
		},
		endStreams() {
			for (const ended of new Set([...streams.values()].flatMap((open) => [...open]))) ended();
		},
		async close() {
			closed = true;
			await client?.end().catch(() => undefined);
		}
	};
}
