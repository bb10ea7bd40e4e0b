import { ofMyPeople } from '../clients/mine';
import { COUNTED } from './section';

/** Of a contact `c`: the first client the firm works for, as `at`; whoever has none has no row. */
export const FIRST_CLIENT = `cross join lateral (
	select cl.id client_id, cl.name client_name from client_contact cc join client cl on cl.id = cc.client_id and cl.state = 'active'
	where cc.contact_id = c.id order by cc.rank, cl.id limit 1
) at`;

/** The same of those who are counted, who are somebody's alone where only that is wished. */
export const COUNTED_PEOPLE = `exists (select from client_contact cc where cc.contact_id = c.id and cc.client_id not in (select id from closed)) and ${ofMyPeople('c.id', COUNTED.mineOf)}`;
