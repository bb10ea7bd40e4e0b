import pg from 'pg';
import { errorForLog, log } from '../log';

export interface LiveEvent {
	firmId: string;
	eventId: number;
	/** the contact whose screens are touched too, if any */
	contactId: string | null;
}

type Listener = (event: LiveEvent) => void;

export interface LiveUpdates {
	subscribe(listener: Listener): () => void;
	/** Calls `ended` once one of the sessions is over, or the process stops. @returns takes that back */
	whileSignedIn(sessions: readonly string[], ended: () => void): () => void;
	/** Ends what goes on while somebody is signed in: the process stops. */
	endStreams(): void;
	close(): Promise<void>;
}

/** Hears of every event of every firm, and of every session that ends, over one LISTEN connection, re-opened when it breaks. */
export function listenForEvents(config: pg.ClientConfig): LiveUpdates {
	const listeners = new Set<Listener>();
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
			const [firmId, eventId, contactId] = (payload ?? '').split(' ');
			for (const listener of listeners) listener({ firmId, eventId: Number(eventId), contactId: contactId || null });
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
		subscribe(listener) {
			listeners.add(listener);
			return () => listeners.delete(listener);
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
