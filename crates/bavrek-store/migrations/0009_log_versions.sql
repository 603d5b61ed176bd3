-- How often a client's log grew: whoever has read it knows by this whether anything is new. Rows of the log are only ever
-- added, so a count is enough.
alter table clients add column logged bigint not null default 0;
update clients c set logged = n.sets
from (select trainer_id, client_id, count(*) as sets from logged_sets group by trainer_id, client_id) n
where c.trainer_id = n.trainer_id and c.id = n.client_id;

create function count_logged() returns trigger language plpgsql as $$
begin
    update clients c set logged = c.logged + n.sets
    from (select trainer_id, client_id, count(*) as sets from fresh group by trainer_id, client_id) n
    where c.trainer_id = n.trainer_id and c.id = n.client_id;
    return null;
end
$$;
create trigger logged_sets_counted after insert on logged_sets
    referencing new table as fresh for each statement execute function count_logged();
