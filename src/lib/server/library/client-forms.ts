import { randomUUID } from 'node:crypto';
import { READY_MADE_FORMS, type ClientForm } from '$lib/core/requests/client-forms';
import { settleQuestions } from '$lib/core/requests/facts-of-lines';
import { DomainError } from '$lib/core/errors/domain-error';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { loadFacts } from '../facts/firm-facts';
import { loadFirm } from '../firms/firm';
import { requireServices } from '../firms/services';
import type { Tx } from '../platform/db/database';

export interface KeptForm extends ClientForm {
	id: string;
	/** how often it was begun */
	used: number;
	changedBy: string;
	changedAt: string;
}

const FORM = `f.id, f.name, f.about, f.questions, f.files, f.services, s.name as "changedBy", f.changed_at as "changedAt",
	(select count(*) from request r where r.firm_id = f.firm_id and r.raised_by_id is not null and r.title = f.name) used`;

/** The firm's forms, by name. */
export function readForms(tx: Tx, actor: Actor): Promise<KeptForm[]> {
	requireStaff(actor, 'look');
	return tx.rows(`select ${FORM} from client_form f join staff s on s.id = f.changed_by_id where f.ended_at is null order by lower(f.name), f.id`);
}

/** @throws DomainError not_found */
export async function readForm(tx: Tx, actor: Actor, id: string): Promise<KeptForm> {
	requireStaff(actor, 'look');
	const form = await tx.first<KeptForm>(
		`select ${FORM} from client_form f join staff s on s.id = f.changed_by_id where f.id = $1 and f.ended_at is null`,
		[id]
	);
	if (!form) throw new DomainError('not_found', 'This form is not in the Library any more.');
	return form;
}

/** Adds a form, or changes one; what clients began with it stays as it was. @returns its id */
export async function writeForm(tx: Tx, actor: Actor, form: ClientForm, id: string | null): Promise<string> {
	requireStaff(actor, 'keep_library');
	await requireServices(tx, form.services);
	const taken = await tx.first(
		'select 1 from client_form where firm_id = $1 and lower(name) = lower($2) and ended_at is null and id is distinct from $3',
		[tx.firmId, form.name, id]
	);
	if (taken) throw new DomainError('invalid', `There is a form “${form.name}” already.`, { name: 'Another form is called so.' });
	const questions = settleQuestions(form.questions, await loadFacts(tx), await loadFirm(tx));
	const kept = [form.name, form.about, JSON.stringify(questions), form.files, form.services, actor.id, actor.now];
	const written = await tx.first<{ id: string }>(
		id
			? 'update client_form set name = $2, about = $3, questions = $4, files = $5, services = $6, changed_by_id = $7, changed_at = $8 where id = $1 and ended_at is null returning id'
			: `insert into client_form (id, firm_id, name, about, questions, files, services, changed_by_id, changed_at) values ($1, (select current_firm()), $2, $3, $4, $5, $6, $7, $8) returning id`,
		[id ?? randomUUID(), ...kept]
	);
	if (!written) throw new DomainError('not_found', 'This form is not in the Library any more.');
	await recordEvent(tx, actor, { verb: id ? 'form_changed' : 'form_added', details: { name: form.name } });
	return written.id;
}

/** Takes over a form that ships with the product, under a name of its own where the firm has one of its name. */
export async function copyReadyForm(tx: Tx, actor: Actor, readyId: string): Promise<string> {
	requireStaff(actor, 'keep_library');
	const ready = READY_MADE_FORMS.find((form) => form.id === readyId);
	if (!ready) throw new DomainError('not_found', 'There is no such form.');
	const names = new Set((await readForms(tx, actor)).map((form) => form.name.toLowerCase()));
	let { name } = ready;
	for (let n = 2; names.has(name.toLowerCase()); n++) name = `${ready.name} (${n})`;
	return writeForm(tx, actor, { ...ready, name }, null);
}

/** Takes a form out of the Library: clients find it no more; what they began with it stays. */
export async function removeForm(tx: Tx, actor: Actor, id: string): Promise<void> {
	requireStaff(actor, 'keep_library');
	const ended = await tx.first<{ name: string }>('update client_form set ended_at = $2 where id = $1 and ended_at is null returning name', [
		id,
		actor.now
	]);
	if (!ended) throw new DomainError('not_found', 'This form is not in the Library any more.');
	await recordEvent(tx, actor, { verb: 'form_removed', details: { name: ended.name } });
}
