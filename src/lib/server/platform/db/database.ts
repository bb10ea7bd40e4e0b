import pg from 'pg';
import { DomainError } from '$lib/core/errors/domain-error';
import { errorForLog, log } from '../log';
import type { Settings } from '../settings';
import { statementName } from './statement-name';

const { types } = pg;
types.setTypeParser(types.builtins.DATE, (text) => text);
types.setTypeParser(types.builtins.TIMESTAMPTZ, (text) => new Date(text).toISOString());
types.setTypeParser(types.builtins.INT8, (text) => Number(text));
types.setTypeParser(1182 as number, (text) =>
	text === '{}'
		? []
		: text
				.slice(1, -1)
				.split(',')
				.map((d) => (d === 'NULL' ? null : d))
);

/** A transaction within one firm. Every statement is parameterised; rows come as plain objects. */
export interface Tx {
	readonly firmId: string;
	rows<Row extends object>(sql: string, values?: readonly unknown[]): Promise<Row[]>;
	/** the first row, or null */
	first<Row extends object>(sql: string, values?: readonly unknown[]): Promise<Row | null>;
}

/** In whose place a transaction is: a contact's, somebody's of the firm, or both. */
export type As = string | { staffId: string; contactId?: string };

export interface Database {
	/**
	 * Runs work in one transaction that sees one firm's rows: only a contact's own if one is given, and for somebody of the
	 * firm no clients that are closed to them; read only, it can change nothing, and all its statements see the same moment.
	 * If the database undoes it because another one stood in its way, it is done again: work must do nothing outside the transaction.
	 * @param as a contact's id, who of the firm it is, or a contact through the eyes of somebody of the firm, who sees no more than both may
	 * @throws DomainError not_allowed if somebody of the firm changes a client they may only see
	 */
	inFirm<T>(firmId: string, work: (tx: Tx) => Promise<T>, as?: As, access?: 'read only'): Promise<T>;
	/** Runs one statement outside any firm: row-level security then shows only what the schema's security-definer functions return. */
	queryOutsideFirm<Row extends object>(sql: string, values?: readonly unknown[]): Promise<Row[]>;
	readonly pool: pg.Pool;
	close(): Promise<void>;
}

/** How long is waited for a connection before whoever waits is told that something is wrong. */
export const WAIT_FOR_DATABASE_MS = 30_000;

/** The server does not compile statements: ours last a few milliseconds, and compiling them took a hundred. */
const NOT_COMPILED = '-c jit=off';

/** The connection options with which a pool steps down from the owner to a role without ownership. */
export function roleOptions(settings: Pick<Settings, 'DATABASE_URL' | 'APP_DATABASE_URL'>, role: 'lantern_app' | 'lantern_queue'): pg.PoolConfig {
	return role === 'lantern_app' && settings.APP_DATABASE_URL
		? { connectionString: settings.APP_DATABASE_URL, options: `-c role=lantern_app ${NOT_COMPILED}` }
		: { connectionString: settings.DATABASE_URL, options: `-c role=${role} ${NOT_COMPILED}` };
}

/** The refusal in words if row-level security refused a change or its event: somebody of the firm may see the client, and no more. */
export function refusalOfRights(error: unknown): DomainError | null {
	const { code, message } = error as { code?: string; message?: string };
	if (code === '42501' && message?.startsWith('client_rights: a person'))
		return new DomainError(
			'not_allowed',
			'This person belongs to another client too, on which you may not work, so you cannot change this. Whoever looks after that client can.'
		);
	return code === '42501' &&
		/^may_work: |row-level security policy ("may_work_(add|change)" for|for table "event"|"client_rights" for table "event")/.test(message ?? '')
		? new DomainError('not_allowed', 'You may look at this client, and not do this. Whoever looks after it can change that.')
		: null;
}

/** The same database, in which every transaction is that of somebody of the firm, with their rights on single clients. */
export function asStaff(db: Database, staffId: string): Database {
	return { ...db, inFirm: (firmId, work, as, access) => db.inFirm(firmId, work, as ?? { staffId }, access) };
}

export function openDatabase(settings: Pick<Settings, 'DATABASE_URL' | 'APP_DATABASE_URL'>, connections = 10): Database {
	const pool = new pg.Pool({ ...roleOptions(settings, 'lantern_app'), max: connections, connectionTimeoutMillis: WAIT_FOR_DATABASE_MS });
	pool.on('error', (error) => log.error(errorForLog(error), 'idle database connection failed'));
	// one that breaks while it is in use tells so by itself as well as by the statement: unheard, it would end the process
	pool.on('connect', (connection) => connection.on('error', (error) => log.warn(errorForLog(error), 'database connection failed')));

	/** What the database undid because two transactions stood in each other's way: done once more, it goes through. */
	const stoodInTheWay = (error: unknown) => ['40P01', '40001'].includes((error as { code?: string }).code ?? '');
	const TRIES = 4;

	const database: Database = {
		pool,
		async inFirm(firmId, work, as = '', access) {
			for (let tries = 1; ; tries++) {
				try {
					return await once(firmId, work, as, access);
				} catch (error) {
					if (tries >= TRIES || !stoodInTheWay(error)) throw error;
					log.warn({ ...errorForLog(error), tries }, 'a transaction is tried again');
				}
			}
		},
		async queryOutsideFirm<Row extends object>(sql: string, values: readonly unknown[] = []) {
			return (await pool.query<Row>({ name: statementName(sql), text: sql, values: values as unknown[] })).rows;
		},
		close: () => pool.end()
	};
	async function once<T>(firmId: string, work: (tx: Tx) => Promise<T>, as: As, access?: 'read only'): Promise<T> {
		const contactId = typeof as === 'string' ? as : (as.contactId ?? '');
		const staffId = typeof as === 'string' ? null : as.staffId;
		const connection = await pool.connect();
		let broken: Error | undefined;
		try {
			// in one text, since every page begins at least one transaction; only the simple protocol takes several statements
			await connection.query(
				`begin ${access ? 'isolation level repeatable read read only' : ''}; set local app.firm_id = ${pg.escapeLiteral(firmId)}; set local app.contact_id = ${pg.escapeLiteral(contactId)}; set local role lantern_app${
					staffId ? `; select set_client_rights(${pg.escapeLiteral(staffId)})` : ''
				}${contactId ? '; set local role lantern_contact' : ''}`
			);
			// a connection does one thing after another, also where several parts of a page share it
			let before: Promise<unknown> = Promise.resolve();
			const rows = <Row extends object>(sql: string, values: readonly unknown[] = []) => {
				// asked for now, while whoever runs it is still on the stack
				const name = statementName(sql);
				const asked = before.then(async () => (await connection.query<Row>({ name, text: sql, values: values as unknown[] })).rows);
				before = asked.catch(() => undefined);
				return asked;
			};
			const result = await work({
				firmId,
				rows,
				first: async <Row extends object>(sql: string, values: readonly unknown[] = []) => (await rows<Row>(sql, values))[0] ?? null
			});
			await connection.query('commit');
			return result;
		} catch (error) {
			await connection.query('rollback').catch((rollbackError: Error) => {
				broken = rollbackError;
			});
			throw refusalOfRights(error) ?? error;
		} finally {
			connection.release(broken);
		}
	}
	return database;
}
