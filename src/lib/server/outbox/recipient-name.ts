/** Of a message `m`: the name of whoever of a client or of the firm it is for. */
export const RECIPIENT_NAME =
	'coalesce((select name from contact where id = m.contact_id), (select name from staff where id = m.staff_id)) recipient_name';
