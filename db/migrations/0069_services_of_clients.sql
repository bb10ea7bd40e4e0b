-- Whether a question applies can hang on what the firm does for a client. A contact may not read services, and learns nothing but that.
create function services_of_clients(wanted uuid[]) returns table (client_id uuid, names text[]) language sql stable security definer set search_path = public as $$
	select es.client_id, array_agg(distinct sv.name) from engagement_service es
		join engagement e on e.id = es.engagement_id and e.ended_on is null join service sv on sv.id = es.service_id
	where es.firm_id = (select current_firm()) and es.client_id = any (wanted)
		and ((select current_contact()) is null or es.client_id = any ((select my_clients())::uuid[]))
		and es.client_id <> all ((select unseen_clients())::uuid[])
	group by es.client_id
$$;
revoke all on function services_of_clients from public;
grant execute on function services_of_clients to lantern_app, lantern_contact;
