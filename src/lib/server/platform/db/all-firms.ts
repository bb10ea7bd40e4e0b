import type { Database } from './database';

/** The ids of all firms here, practice workspaces included. */
export async function readAllFirms(db: Database): Promise<string[]> {
	return (await db.queryOutsideFirm<{ id: string }>('select id from all_firms() as t(id)')).map(({ id }) => id);
}

/** Whose a message is, by its id; null if there is no such message. */
export async function firmOfMessage(db: Database, messageId: string): Promise<string | null> {
	return (await db.queryOutsideFirm<{ id: string | null }>('select find_firm_of_message($1) as id', [messageId]))[0]?.id ?? null;
}
