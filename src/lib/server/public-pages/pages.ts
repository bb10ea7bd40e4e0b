import { randomUUID } from 'node:crypto';
import { DomainError } from '$lib/core/errors/domain-error';
import type { PublicPageSettings } from '$lib/core/public-pages/public-page';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import type { Tx } from '../platform/db/database';

/** The public page of a questionnaire, as the firm sees it. */
export interface PublicPage extends PublicPageSettings {
	id: string;
	open: boolean;
	openedBy: string;
	openedAt: string;
	/** answers that wait in Rounds */
	waiting: number;
	/** all that came, without what was put away */
	came: number;
}
type Row = Omit<PublicPage, 'sites'> & { sites: string[] };

/** The public page of a questionnaire, or null if it never had one. */
export async function readPublicPage(tx: Tx, actor: Actor, questionnaireId: string): Promise<Row | null> {
	requireStaff(actor, 'look');
	return tx.first<Row>(
		`select p.id, p.name, p.sites, p.who, p.thanks, p.closed_at is null as open, s.name "openedBy", p.opened_at "openedAt",
			(select count(*) from public_answer a where a.page_id = p.id and a.outcome is null) waiting,
			(select count(*) from public_answer a where a.page_id = p.id and a.outcome is distinct from 'put_away') came
		from public_page p join staff s on s.id = p.opened_by_id where p.questionnaire_id = $1`,
		[questionnaireId]
	);
}

/**
 * Opens a questionnaire to anybody who has its address, or changes how it is open.
 * @throws DomainError not_found for one that is not in the Library; invalid for an address that another one has
 */
export async function openPublicPage(tx: Tx, actor: Actor, questionnaireId: string, page: PublicPageSettings): Promise<void> {
	requireStaff(actor, 'keep_library');
	const questionnaire = await tx.first<{ name: string }>('select name from questionnaire where id = $1 and ended_at is null for update', [
		questionnaireId
	]);
	if (!questionnaire) throw new DomainError('not_found', 'This questionnaire is not in the Library any more.');
	const taken = await tx.first<{ name: string }>(
		'select q.name from public_page p join questionnaire q on q.id = p.questionnaire_id where p.firm_id = $1 and p.name = $2 and p.questionnaire_id <> $3',
		[tx.firmId, page.name, questionnaireId]
	);
	if (taken)
		throw new DomainError('invalid', `“${page.name}” is the address of “${taken.name}” already. Choose another one.`, {
			name: `This is the address of “${taken.name}”.`
		});
	const before = await tx.first<{ name: string; open: boolean }>(
		'select name, closed_at is null as open from public_page where questionnaire_id = $1',
		[questionnaireId]
	);
	await tx.rows(
		`insert into public_page (id, firm_id, questionnaire_id, name, sites, who, thanks, opened_by_id, opened_at) values ($1, $2, $3, $4, $5, $6, $7, $8, $9)
		on conflict (questionnaire_id) do update set name = $4, sites = $5, who = $6, thanks = $7, closed_at = null,
			opened_by_id = case when public_page.closed_at is null then public_page.opened_by_id else $8 end,
			opened_at = case when public_page.closed_at is null then public_page.opened_at else $9 end`,
		[randomUUID(), tx.firmId, questionnaireId, page.name, page.sites, page.who, page.thanks, actor.id, actor.now]
	);
	await recordEvent(tx, actor, {
		verb: before?.open ? 'public_page_changed' : 'public_page_opened',
		details: { name: questionnaire.name, address: page.name }
	});
}

/** Closes it: whoever has the address is told so, and what came in stays. @throws DomainError not_found if it is not open */
export async function closePublicPage(tx: Tx, actor: Actor, questionnaireId: string): Promise<void> {
	requireStaff(actor, 'keep_library');
	const closed = await tx.first<{ name: string }>(
		`update public_page p set closed_at = $2 from questionnaire q where q.id = p.questionnaire_id and p.questionnaire_id = $1 and p.closed_at is null returning q.name`,
		[questionnaireId, actor.now]
	);
	if (!closed) throw new DomainError('not_found', 'This questionnaire is not open to anybody.');
	await recordEvent(tx, actor, { verb: 'public_page_closed', details: { name: closed.name } });
}
