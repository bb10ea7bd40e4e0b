/** An exact amount without idle noughts, with two decimals at least. */
export const AMOUNT = (of: string) => `(case when scale(trim_scale(${of})) < 2 then round(${of}, 2) else trim_scale(${of}) end)::text`;

/** Lines of the client that were asked about, of whatever file. */
const ASKED_OF_CLIENT = `transaction_line o where o.client_id = (select client_id from transaction_file where id = $1) and o.asked_item_id is not null`;
/** Whether the same line `l` of the file $1 was asked about. What was asked is gathered once, however many lines are compared with it. */
export const ASKED_BEFORE = `(l.identity in (select o.identity from ${ASKED_OF_CLIENT}) or l.content in (select o.content from ${ASKED_OF_CLIENT}))`;
