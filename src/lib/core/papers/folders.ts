import { z } from 'zod';
import { keepYearsField } from './retention';
import { oneLine } from '../people/plain-fields';

/** What people of the client may do in a folder. */
export const CLIENT_MAY = ['nothing', 'see', 'add'] as const;
export type ClientMay = (typeof CLIENT_MAY)[number];

export const CLIENT_MAY_WORDS: Record<ClientMay, string> = {
	nothing: 'ours only: nothing in it is seen by the client',
	see: 'the client sees what is shown in it',
	add: 'the client sees what is shown in it, and may add'
};

/** Letters of the name of a folder, at most. */
const FOLDER_NAME_MAX = 60;
export const folderNameField = oneLine('the name of the folder', FOLDER_NAME_MAX);

/** Folders that a client may have, at most. */
export const FOLDERS_MOST = 60;

/** A folder as it is changed. */
export const folderSchema = z.object({
	name: folderNameField,
	clientMay: z.enum(CLIENT_MAY),
	/** ids of the people for whom it is; null for all of the client */
	contactIds: z.array(z.uuid()).max(200).nullable(),
	/** how long papers in it are kept, in years after the one in which they came; null as the firm keeps others */
	keepYears: keepYearsField
});
export type FolderInput = z.output<typeof folderSchema>;

/**
 * Where a paper is to lie, as it is chosen: nowhere, a folder of the client by its id, or one by name that comes into being with it.
 */
export const folderChoiceSchema = z.union([
	z.literal('').transform(() => null),
	z.uuid().transform((id) => ({ id })),
	z
		.string()
		.startsWith('+')
		.transform((value) => value.slice(1))
		.pipe(folderNameField)
		.transform((name) => ({ name }))
]);
export type FolderChoice = z.output<typeof folderChoiceSchema>;

/** A folder of the firm's scheme. */
export interface ProposedFolder {
	name: string;
	clientMay: ClientMay;
	/** services of whose clients it is proposed; empty for all */ services: string[];
	/** how long papers in it are kept; see `folderSchema` */ keepYears: number | null;
}

/** What a new firm is proposed to begin with. */
export const FIRST_FOLDERS: readonly Omit<ProposedFolder, 'services' | 'keepYears'>[] = [
	{ name: 'Agreements', clientMay: 'see' },
	{ name: 'Bank', clientMay: 'add' },
	{ name: 'Bills and receipts', clientMay: 'add' },
	{ name: 'Tax', clientMay: 'see' },
	{ name: 'Year end', clientMay: 'see' },
	{ name: 'Working papers', clientMay: 'nothing' }
];
