-- A second wall between trainers, under the queries: while a connection works for one trainer, nothing of another's is read or written,
-- whatever a query forgot. What works for nobody in particular (signing in, tending all plans, migrations) sees all.
create function bavrek_trainer() returns uuid language sql stable as
    $$ select nullif(current_setting('bavrek.trainer', true), '')::uuid $$;

-- Puts the wall around a table.
create procedure stand_wall_around(name text) language plpgsql as $$
begin
    execute format('alter table %I enable row level security', name);
    -- The tables belong to the role that asks: without this it would be let through.
    execute format('alter table %I force row level security', name);
    -- Said so that the planner does not take it for a condition that leaves almost nothing.
    execute format(
        'create policy of_one_trainer on %I
            using (case when trainer_id <> (select bavrek_trainer()) then false else true end)',
        name
    );
end
$$;

do $$
declare
    name text;
begin
    for name in
        select c.table_name from information_schema.columns c
            where c.table_schema = 'public' and c.column_name = 'trainer_id' and c.is_nullable = 'NO'
    loop
        call stand_wall_around(name);
    end loop;
end
$$;

-- What was logged stays as it was: it is superseded or withdrawn by a row of its own, and leaves with its client alone.
create function keep_what_was_logged() returns trigger language plpgsql as $$
begin
    if tg_op = 'DELETE' and old.client_id::text = current_setting('bavrek.erasing', true) then
        return old;
    end if;
    if tg_op = 'UPDATE' and new is not distinct from old then
        return new;
    end if;
    raise exception 'what was logged is not changed: it is superseded, withdrawn, or erased with its client';
end
$$;
create trigger logged_sets_stay before update or delete on logged_sets
    for each row execute function keep_what_was_logged();
create trigger logged_sets_stay_all before truncate on logged_sets
    for each statement execute function keep_what_was_logged();

-- What stands in the place of another is of the same client.
alter table aims add unique (trainer_id, client_id, id);
alter table aims drop constraint aims_trainer_id_replaces_fkey;
alter table aims add foreign key (trainer_id, client_id, replaces) references aims (trainer_id, client_id, id);
alter table limits add unique (trainer_id, client_id, id);
alter table limits drop constraint limits_replaces;
alter table limits add foreign key (trainer_id, client_id, replaces) references limits (trainer_id, client_id, id);

-- What was changed is told like what was taken out: by which form, and of whom by identifier.
alter table deeds drop constraint deeds_what_check;
alter table deeds add constraint deeds_what_check
    check (what in ('signed_in', 'password_changed', 'second_step', 'taken_out', 'erased', 'changed'));
alter table deeds add column client_id uuid;
create index deeds_of_client on deeds (trainer_id, client_id, at desc) where client_id is not null;
create index deeds_at on deeds (at);

-- A colleague is invited by letter as well.
alter table outbox drop constraint outbox_kind_check;
alter table outbox add constraint outbox_kind_check check (kind in ('link', 'summary', 'reset', 'invitation'));
