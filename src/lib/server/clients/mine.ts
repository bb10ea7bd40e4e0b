/** Conditions of SQL that leave what comes of the clients somebody looks after. The person is `$n`; null leaves everything. `$1` is the firm. */

/** @param client the client's id, in the statement */
export const ofMine = (client: string, n: number): string =>
	`($${n}::uuid is null or ${client} in (select id from client where firm_id = $1 and responsible_id = $${n}))`;

/** The same of a contact, who may belong to several clients, or sign for some from outside. @param contact the contact's id, in the statement */
export const ofMyPeople = (contact: string, n: number): string =>
	`($${n}::uuid is null or exists (select from tied_person mcc join client mine on mine.id = mcc.client_id where mcc.contact_id = ${contact} and mine.responsible_id = $${n}))`;
