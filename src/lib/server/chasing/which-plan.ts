import { chasePlanChoices, chasePlanOf, type ChasingFirm } from '$lib/core/chasing/chase-plan';
import { planOriginInWords, type HoldingPlan, type PlanOrigin } from '$lib/core/chasing/plan-origin';
import type { Tx } from '../platform/db/database';

/**
 * By which plan what is asked of people of a client is chased, by person.
 * @param chosen the plan that was chosen for the request; null for none
 */
export async function readPlansFor(
	tx: Tx,
	asked: { clientId: string; contactIds: readonly string[]; listId: string | null; chosen: string | null }
): Promise<Map<string, HoldingPlan>> {
	if (asked.chosen !== null) return new Map(asked.contactIds.map((id) => [id, { key: asked.chosen, from: 'request', named: null }]));
	const rows = await tx.rows<{ id: string; key: string | null; from: PlanOrigin | null; named: string | null }>(
		`select c.id, p.key "key", p.came_from "from", p.named "named" from unnest($3::uuid[]) c (id) left join lateral chase_plan_for($1, $2, c.id) p on true`,
		[asked.listId, asked.clientId, asked.contactIds]
	);
	return new Map(rows.map(({ id, ...plan }) => [id, plan]));
}

/** By which plans questionnaires of the Library are chased that have one of their own, by their ids. */
export async function readPlansOfQuestionnaires(tx: Tx, ids: readonly string[]): Promise<Map<string, HoldingPlan>> {
	if (ids.length === 0) return new Map();
	const rows = await tx.rows<{ id: string; key: string | null; named: string }>(
		`select id, chase_plan "key", name "named" from questionnaire where id = any ($1) and chase_plan is not null`,
		[ids]
	);
	return new Map(rows.map(({ id, ...plan }) => [id, { ...plan, from: 'questionnaire' }]));
}

/** A plan that holds, in words: "Firm: 3 business days before it is due, …" and why. */
export interface PlanInWords {
	name: string;
	words: string;
	why: string;
}

/** A plan that holds, in words. */
export function holdingPlanInWords(firm: Pick<ChasingFirm, 'chasePlan' | 'furtherPlans'>, plan: HoldingPlan): PlanInWords {
	const { name } = chasePlanOf(firm, plan.key);
	const words = chasePlanChoices(firm).find((one) => one.key === (plan.key ?? 'usual'))?.words ?? '';
	return { name, words, why: planOriginInWords(plan) };
}

/** The plan by which one thing is chased. */
export async function readPlanOf(tx: Tx, itemId: string): Promise<HoldingPlan> {
	const row = await tx.first<HoldingPlan>('select chase_plan "key", chase_plan_from "from", chase_plan_named "named" from item where id = $1', [
		itemId
	]);
	return row ?? { key: null, from: null, named: null };
}
