import pg from 'pg';
import { errorForLog, log } from '../log';

export interface LiveEvent {
	firmId: string;
	eventId: number;
	/** the contact whose screens are touched too, if any */
	contactId: string | null;
}

type Listener = (event: LiveEvent) => void;

/** Hears of every event of every firm over one LISTEN connection, re-opened when it breaks. */
export function listenForEvents(config: pg.ClientConfig): { subscribe(listener: Listener): () => void; close(): Promise<void> } {
	const listeners = new Set<Listener>();
	let closed = false;
	let client: pg.Client | undefined;

	const connect = async () => {
		client = new pg.Client(config);
		client.on('error', (error) => log.warn(errorForLog(error), 'live connection failed'));
		client.on('end', () => {
			if (!closed) setTimeout(open, 300).unref();
		});
		client.on('notification', ({ payload }) => {
			const [firmId, eventId, contactId] = (payload ?? '').split(' ');
			for (const listener of listeners) listener({ firmId, eventId: Number(eventId), contactId: contactId || null });
		});
		await client.connect();
		await client.query('listen lantern_events');
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
		async close() {
			closed = true;
			await client?.end().catch(() => undefined);
		}
	};
}
