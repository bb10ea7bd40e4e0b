import { randomUUID } from 'node:crypto';
import { DomainError } from '$lib/core/errors/domain-error';
import { FIRST_FOLDERS, FOLDERS_MOST, type ClientMay, type FolderChoice, type FolderInput, type ProposedFolder } from '$lib/core/papers/folders';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { requireServices } from '../firms/services';
import type { Tx } from '../platform/db/database';

/** A folder of a client. */
export interface Folder {
	id: string;
	name: string;
	clientMay: ClientMay;
	/** the people for whom it is; null for all of the client */
	contactIds: string[] | null;
	/** how long papers in it are kept, in years after the one in which they came; null as the firm keeps others */
	keepYears: number | null;
	/** papers that lie in it, earlier versions left aside */
	papers: number;
}

/** The folders of a client by name, and those that the firm's scheme proposes besides. */
export async function readFolders(tx: Tx, actor: Actor, clientId: string): Promise<{ folders: Folder[]; proposed: string[] }> {
	requireStaff(actor, 'look');
	const folders = await tx.rows<Folder>(
		`select f.id, f.name, f.client_may "clientMay", f.keep_years "keepYears",
			case when f.for_some then array(select c.contact_id from folder_contact c where c.folder_id = f.id) end "contactIds",
			(select count(*) from paper p where p.folder_id = f.id and p.removed_at is null and p.newer_id is null) papers
		from folder f where f.client_id = $1 order by lower(f.name)`,
		[clientId]
	);
	const proposed = await tx.rows<{ name: string }>(
		`select d.name from proposed_folder d where d.firm_id = $1 and not exists (select from folder f where f.client_id = $2 and lower(f.name) = lower(d.name))
			and (d.services = '{}' or exists (select from engagement_service es join engagement e on e.id = es.engagement_id and e.ended_on is null
				where es.client_id = $2 and es.service_id = any (d.services)))
		order by d.place, d.name`,
		[tx.firmId, clientId]
	);
	return { folders, proposed: proposed.map(({ name }) => name) };
}

/**
 * The folder that is chosen, which comes into being with the first paper in it. One that the firm's scheme has opens to the client as it says
 * there; another one as most do.
 * @throws DomainError not_found, too_many
 */
export async function folderChosen(tx: Tx, actor: Actor, clientId: string, choice: FolderChoice): Promise<string | null> {
	requireStaff(actor, 'file_papers');
	if (choice === null) return null;
	if ('id' in choice) {
		if (!(await tx.first('select 1 from folder where id = $1 and client_id = $2', [choice.id, clientId])))
			throw new DomainError('not_found', 'This folder is not here any more. Choose another one.');
		return choice.id;
	}
	const there = await tx.first<{ id: string }>('select id from folder where client_id = $1 and lower(name) = lower($2)', [clientId, choice.name]);
	if (there) return there.id;
	const count = await tx.first<{ n: number }>('select count(*) n from folder where client_id = $1', [clientId]);
	if (count!.n >= FOLDERS_MOST) throw new DomainError('too_many', `A client has at most ${FOLDERS_MOST} folders. Choose one of them.`);
	const made = await tx.first<{ id: string }>(
		`insert into folder (id, firm_id, client_id, name, client_may, keep_years)
		select $1, $2, $3, coalesce(d.name, $4), coalesce(d.client_may, 'see'), d.keep_years from (select 1) one left join proposed_folder d on d.firm_id = $2 and lower(d.name) = lower($4)
		on conflict (client_id, lower(name)) do update set name = folder.name returning id`,
		[randomUUID(), tx.firmId, clientId, choice.name]
	);
	await recordEvent(tx, actor, { verb: 'folder_added', clientId, details: { folder: choice.name } });
	return made!.id;
}

/** Renames a folder, says what the client may do in it and for whom of them it is. @throws DomainError not_found, invalid */
export async function changeFolder(tx: Tx, actor: Actor, folderId: string, input: FolderInput): Promise<void> {
	requireStaff(actor, 'share_papers');
	const folder = await tx.first<{ clientId: string; name: string; keepYears: number | null }>(
		'select client_id "clientId", name, keep_years "keepYears" from folder where id = $1 for update',
		[folderId]
	);
	if (!folder) throw new DomainError('not_found', 'This folder is not here any more.');
	// when papers end is more than who sees them
	if (input.keepYears !== folder.keepYears) requireStaff(actor, 'set_up_firm');
	const other = await tx.first('select 1 from folder where client_id = $1 and lower(name) = lower($2) and id <> $3', [
		folder.clientId,
		input.name,
		folderId
	]);
	if (other) throw new DomainError('invalid', `There is a folder “${input.name}” already.`, { name: 'There is one of this name already.' });
	if (input.contactIds?.length === 0)
		throw new DomainError('invalid', 'Choose at least one person, or leave it to everybody of the client.', { contactIds: 'Choose somebody.' });
	await tx.rows('update folder set name = $2, client_may = $3, for_some = $4, keep_years = $5 where id = $1', [
		folderId,
		input.name,
		input.clientMay,
		input.contactIds !== null,
		input.keepYears
	]);
	await tx.rows('delete from folder_contact where folder_id = $1', [folderId]);
	if (input.contactIds)
		await tx.rows(
			`insert into folder_contact (firm_id, client_id, folder_id, contact_id)
			select $1, $2, $3, contact_id from client_contact where client_id = $2 and contact_id = any ($4)`,
			[tx.firmId, folder.clientId, folderId, input.contactIds]
		);
	// nobody is told of what they may not see any more
	await tx.rows(
		`delete from paper_announcement a using paper p where a.paper_id = p.id and p.folder_id = $1 and a.told_at is null
			and ($2 = 'nothing' or ($3::uuid[] is not null and a.contact_id <> all ($3)))`,
		[folderId, input.clientMay, input.contactIds]
	);
	await recordEvent(tx, actor, {
		verb: 'folder_changed',
		clientId: folder.clientId,
		details: { folder: input.name, may: input.contactIds && input.clientMay !== 'nothing' ? `${input.clientMay}, for some` : input.clientMay }
	});
}

/** Takes an empty folder away. @throws DomainError not_found, changed_meanwhile while something lies in it */
export async function removeFolder(tx: Tx, actor: Actor, folderId: string): Promise<void> {
	requireStaff(actor, 'file_papers');
	const folder = await tx.first<{ clientId: string; name: string }>('select client_id "clientId", name from folder where id = $1 for update', [
		folderId
	]);
	if (!folder) throw new DomainError('not_found', 'This folder is not here any more.');
	if (await tx.first('select 1 from paper where folder_id = $1 and removed_at is null limit 1', [folderId]))
		throw new DomainError('changed_meanwhile', `There are papers in “${folder.name}”. Move them first.`);
	await tx.rows('delete from folder where id = $1', [folderId]);
	await recordEvent(tx, actor, { verb: 'folder_removed', clientId: folder.clientId, details: { folder: folder.name } });
}

/** The firm's scheme: the folders that each client is proposed, in order. */
export async function readProposedFolders(tx: Tx, actor: Actor): Promise<ProposedFolder[]> {
	requireStaff(actor, 'look');
	return tx.rows<ProposedFolder>(
		'select name, client_may "clientMay", services, keep_years "keepYears" from proposed_folder where firm_id = $1 order by place, name',
		[tx.firmId]
	);
}

/** Puts what each new client is proposed in the place of what was proposed until now; the folders that are there stay. @throws DomainError invalid */
export async function changeProposedFolders(tx: Tx, actor: Actor, folders: readonly ProposedFolder[]): Promise<void> {
	requireStaff(actor, 'keep_library');
	const names = folders.map(({ name }) => name.toLowerCase());
	const twice = folders.find(({ name }, index) => names.indexOf(name.toLowerCase()) !== index);
	if (twice) throw new DomainError('invalid', `“${twice.name}” stands here twice.`);
	if (folders.length > FOLDERS_MOST) throw new DomainError('too_many', `Propose at most ${FOLDERS_MOST} folders.`);
	await requireServices(tx, [...new Set(folders.flatMap(({ services }) => services))]);
	const before = new Map((await readProposedFolders(tx, actor)).map(({ name, keepYears }) => [name.toLowerCase(), keepYears]));
	// when papers end is the administrators’ to say
	if (folders.some(({ name, keepYears }) => keepYears !== (before.get(name.toLowerCase()) ?? null))) requireStaff(actor, 'set_up_firm');
	await tx.rows('delete from proposed_folder where firm_id = $1', [tx.firmId]);
	if (folders.length > 0)
		await tx.rows(
			`insert into proposed_folder (id, firm_id, name, place, client_may, services, keep_years)
			select gen_random_uuid(), $1, f.name, f.place, f."clientMay", array(select jsonb_array_elements_text(f.services))::uuid[], f."keepYears"
			from jsonb_to_recordset($2) f (name text, place int, "clientMay" text, services jsonb, "keepYears" int)`,
			[tx.firmId, JSON.stringify(folders.map((folder, place) => ({ ...folder, place })))]
		);
	await recordEvent(tx, actor, { verb: 'proposed_folders_changed', details: { names: folders.map(({ name }) => name).join(', ') } });
}

/** What a firm that has not chosen yet may begin with. */
export const firstFolders = (): ProposedFolder[] => FIRST_FOLDERS.map((folder) => ({ ...folder, services: [], keepYears: null }));
