import { ofMine } from '../clients/mine';

/** Of words `m` of a client: nobody has put the answer off beyond a day. @param today the parameter with the day of the firm */
export const notPutOff = (today: string): string => `(m.later_until is null or m.later_until <= ${today})`;

/**
 * Of words `m` of a client: they are somebody's to answer, because they were given to them, or given to nobody and of a client they look after.
 * @param n the parameter with who it is; null for everybody
 */
export const theirsToAnswer = (n: number): string =>
	`(case when m.given_to is null or who_answers(m) is null then ${ofMine('m.client_id', n)} else $${n}::uuid is null or m.given_to = $${n}::uuid end)`;

/** Who has words `m` of a client to answer. Most were given to nobody, and then nobody's rights are looked at. */
export const GIVEN_TO = 'case when m.given_to is not null then who_answers(m) end given_to';

/** Words that wait for an answer, as both sections read them. */
export interface ToAnswerRow {
	words: string;
	since: string;
	client_id: string;
	client_name: string;
	by: string;
	given_to: string | null;
	given_name: string | null;
	given_by: string | null;
}

/** What stands beside words in the list: who wrote them, and who has them to answer. */
export const byAndGiven = (row: ToAnswerRow, reader: string | null) =>
	!row.given_name ? row.by : row.given_to === reader ? `${row.by} · given to you by ${row.given_by}` : `${row.by} · ${row.given_name} has it`;
