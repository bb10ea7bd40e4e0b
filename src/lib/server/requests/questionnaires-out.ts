import { DomainError } from '$lib/core/errors/domain-error';
import { picturesOfSpec } from '$lib/core/requests/files-beside';
import { settleQuestions } from '$lib/core/requests/facts-of-lines';
import { requireStaff, type Actor } from '../actor';
import { recordEvents } from '../audit/record-event';
import { loadFacts } from '../facts/firm-facts';
import { loadFirm } from '../firms/firm';
import { questionnaireToSend } from '../library/questionnaires';
import type { Tx } from '../platform/db/database';

/** Asked and not begun: nothing was answered, typed or sent back, so other questions may take the place of these. */
const NOT_BEGUN = `i.state in ('asked', 'seen') and i.answer_data is null
	and not exists (select from jsonb_object_keys(i.typed) of (name) where of.name like 'answer.%')`;

/** How a questionnaire is out with clients, by version. */
export interface OutWithClients {
	version: number;
	notBegun: number;
	begun: number;
	handedIn: number;
}

/** What of a questionnaire is out, newest version first; of the clients whom this person sees. */
export function readOutWithClients(tx: Tx, actor: Actor, id: string): Promise<OutWithClients[]> {
	requireStaff(actor, 'look');
	return tx.rows(
		`select i.questionnaire_version as version, count(*) filter (where ${NOT_BEGUN}) "notBegun",
			count(*) filter (where i.phase = 'open' and not (${NOT_BEGUN})) begun, count(*) filter (where i.phase in ('to_look_at', 'settled') and i.state <> 'waived') "handedIn"
		from item i where i.questionnaire_id = $1 and i.questionnaire_version is not null group by i.questionnaire_version order by 1 desc`,
		[id]
	);
}

export interface NotBegun {
	itemId: string;
	clientId: string;
	clientName: string;
	contactName: string;
	version: number;
}

/** Who has an earlier version and has not begun with it; of the clients for whom this person may work. */
export function readNotBegun(tx: Tx, actor: Actor, id: string): Promise<NotBegun[]> {
	requireStaff(actor, 'look');
	return tx.rows(
		`select i.id "itemId", cl.id "clientId", cl.name "clientName", ct.name "contactName", i.questionnaire_version as version
		from item i join questionnaire q on q.id = i.questionnaire_id join client cl on cl.id = i.client_id join contact ct on ct.id = i.contact_id
		where i.questionnaire_id = $1 and i.questionnaire_version < q.version and ${NOT_BEGUN} and i.client_id <> all (not_worked_clients())
		order by lower(cl.name), i.id`,
		[id]
	);
}

/**
 * Gives those who have not begun the newest version of a questionnaire; whoever has begun goes on with theirs.
 * @param itemIds of those that were looked at
 * @param version the one that was looked at
 * @returns how many were moved; somebody may have begun meanwhile
 * @throws DomainError changed_meanwhile if there is a newer version by now
 */
export async function moveNotBegun(tx: Tx, actor: Actor, id: string, input: { itemIds: readonly string[]; version: number }): Promise<number> {
	requireStaff(actor, 'send_request');
	const firm = await loadFirm(tx);
	const newest = await questionnaireToSend(tx, { id, name: '', version: 1, before: null });
	if (newest.from.version !== input.version)
		throw new DomainError('changed_meanwhile', 'The questionnaire was changed once more meanwhile. Please look at what would be sent.');
	const spec = { ...newest, questions: settleQuestions(newest.questions, await loadFacts(tx), firm) };
	const moved = await tx.rows<{ id: string; client_id: string; title: string }>(
		`update item i set spec = $3, version = i.version + 1, attachments = $5::uuid[] || array(select beside from unnest(i.attachments) beside
			where beside <> all ($5) and beside <> all (select (picture #>> '{attrs,id}')::uuid
				from jsonb_path_query(i.spec, '$.questions[*].helpText.content[*] ? (@.type == "picture")') picture))
		where i.id = any ($1) and i.questionnaire_id = $2 and i.questionnaire_version < $4 and ${NOT_BEGUN} and i.client_id <> all (not_worked_clients())
		returning i.id, i.client_id, i.title`,
		[input.itemIds, id, JSON.stringify(spec), input.version, picturesOfSpec(spec)]
	);
	await recordEvents(
		tx,
		actor,
		moved.map((item) => ({
			verb: 'item_version_moved',
			itemId: item.id,
			clientId: item.client_id,
			details: { title: item.title, version: input.version }
		}))
	);
	return moved.length;
}
