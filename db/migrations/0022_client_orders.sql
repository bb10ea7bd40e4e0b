-- The list of clients can be read by who has been silent longest and by who is chased next.
create index client_position_by_life on client_position (firm_id, coalesce(last_sign_of_life, timestamptz '0001-01-01 00:00:00+00'), client_id) where state <> 'ended';
create index client_position_by_chase on client_position (firm_id, coalesce(next_chase_on, date '9999-12-31'), client_id) where state <> 'ended';
