-- What the roster shows of each client, as it was last worked out: to work it out for all clients at once took longer than anything
-- else that a page asks. It holds for the client's own day and until something of the client is written.
create table roster_lines (
    trainer_id uuid not null,
    client_id uuid not null,
    -- The client's own day that it was worked out for; none before the roster was first looked at.
    day date,
    -- First place by name.
    place text,
    -- The session that is next, else the latest one, and whether it is open.
    session_id uuid,
    session_name text,
    planned_on date,
    open boolean not null default false,
    last_logged date,
    -- Highest pain of the last two weeks.
    pain integer,
    -- Lines that wait for a call.
    waiting bigint not null default 0,
    -- Whether the latest screening waits for a clearance.
    stopped boolean not null default false,
    primary key (trainer_id, client_id),
    foreign key (trainer_id, client_id) references clients (trainer_id, id) on delete cascade
);
call stand_wall_around('roster_lines');

-- That something was written which the roster may show: each writer adds a row and waits for nobody. Who reads works out anew whoever
-- has any, and takes away in the same statement those that it saw: what is written meanwhile is seen the next time. It refers to no
-- client, since a reference is a lock on the client's row; it goes with its client by a trigger.
create table roster_changes (
    trainer_id uuid not null,
    client_id uuid not null
);
create index roster_changes_client on roster_changes (trainer_id, client_id);
call stand_wall_around('roster_changes');

insert into roster_lines (trainer_id, client_id) select trainer_id, id from clients;

create function begin_roster_line() returns trigger language plpgsql as $$
begin
    insert into roster_lines (trainer_id, client_id) values (new.trainer_id, new.id);
    return null;
end
$$;
create trigger clients_on_the_roster after insert on clients for each row execute function begin_roster_line();

create function end_roster_line() returns trigger language plpgsql as $$
begin
    delete from roster_changes where trainer_id = old.trainer_id and client_id = old.id;
    return null;
end
$$;
create trigger clients_off_the_roster after delete on clients for each row execute function end_roster_line();

-- Whose a changed row is, by what it hangs on; where that is gone itself, so is the client or its own change was noted.
create function note_for_the_roster() returns trigger language plpgsql as $$
declare
    changed record;
begin
    if tg_op = 'DELETE' then changed := old; else changed := new; end if;
    case tg_argv[0]
        when 'client' then
            insert into roster_changes
                select c.trainer_id, c.id from clients c
                where c.trainer_id = changed.trainer_id and c.id = changed.client_id;
        when 'session' then
            insert into roster_changes
                select x.trainer_id, x.client_id from sessions x
                where x.trainer_id = changed.trainer_id and x.id = changed.session_id;
        when 'block' then
            insert into roster_changes
                select x.trainer_id, x.client_id from blocks b
                join sessions x on x.trainer_id = b.trainer_id and x.id = b.session_id
                where b.trainer_id = changed.trainer_id and b.id = changed.block_id;
        when 'slot' then
            insert into roster_changes
                select x.trainer_id, x.client_id from slots t
                join blocks b on b.trainer_id = t.trainer_id and b.id = t.block_id
                join sessions x on x.trainer_id = b.trainer_id and x.id = b.session_id
                where t.trainer_id = changed.trainer_id and t.id = changed.slot_id;
        when 'screening' then
            insert into roster_changes
                select s.trainer_id, s.client_id from screenings s
                where s.trainer_id = changed.trainer_id and s.id = changed.screening_id;
    end case;
    return null;
end
$$;

create procedure put_on_the_roster(name text, hangs_on text) language plpgsql as $$
begin
    execute format(
        'create trigger %I after insert or update or delete on %I for each row execute function note_for_the_roster(%L)',
        name || '_noted', name, hangs_on);
end
$$;
call put_on_the_roster('places', 'client');
call put_on_the_roster('sessions', 'client');
call put_on_the_roster('screenings', 'client');
call put_on_the_roster('clearances', 'screening');
call put_on_the_roster('workouts', 'session');
call put_on_the_roster('blocks', 'session');
call put_on_the_roster('slots', 'block');
call put_on_the_roster('fits', 'slot');
call put_on_the_roster('decisions', 'slot');
drop procedure put_on_the_roster;

-- A log comes by thousands of sets.
create function note_log_for_the_roster() returns trigger language plpgsql as $$
begin
    insert into roster_changes
        select c.trainer_id, c.id from clients c
        where (c.trainer_id, c.id) in (select distinct trainer_id, client_id from written);
    return null;
end
$$;
create trigger logged_sets_noted after insert on logged_sets
    referencing new table as written for each statement execute function note_log_for_the_roster();
create trigger logged_sets_gone_noted after delete on logged_sets
    referencing old table as written for each statement execute function note_log_for_the_roster();

-- What the roster shows of some clients, each on its own day.
create function work_out_roster(trainer uuid, at timestamptz, wanted uuid[]) returns table (
    client_id uuid, day date, place text, session_id uuid, session_name text, planned_on date, open boolean, last_logged date,
    pain integer, waiting bigint, stopped boolean
) language sql stable as $$
    with days as materialized (
        select id, (at at time zone time_zone)::date as today from clients where trainer_id = trainer and id = any (wanted)),
    ahead as materialized (
        select distinct on (x.client_id) x.client_id, x.id, x.name, w.planned_on
        from days d
        join sessions x on x.trainer_id = trainer and x.client_id = d.id and x.removed_at is null
        join workouts w on w.trainer_id = x.trainer_id and w.session_id = x.id and w.state in ('planned', 'under_way')
        order by x.client_id, w.planned_on < d.today, abs(w.planned_on - d.today), x.id),
    past as materialized (
        select distinct on (x.client_id) x.client_id, x.id, x.name, w.planned_on
        from days d
        join sessions x on x.trainer_id = trainer and x.client_id = d.id and x.removed_at is null
        cross join lateral (
            select planned_on from workouts
            where trainer_id = x.trainer_id and session_id = x.id order by planned_on desc limit 1) w
        where x.client_id not in (select a.client_id from ahead a)
        order by x.client_id, abs(w.planned_on - d.today), x.id)
    select d.id, d.today,
        (select min(p.name) from places p
         where p.trainer_id = trainer and p.client_id = d.id and p.removed_at is null and p.archived_at is null),
        coalesce(a.id, s.id), coalesce(a.name, s.name), coalesce(a.planned_on, s.planned_on), a.id is not null,
        (select g.performed_on from sets_in_force g
         where g.trainer_id = trainer and g.client_id = d.id order by g.performed_on desc limit 1),
        (select max((g.entry->>'pain')::int) from sets_in_force g
         where g.trainer_id = trainer and g.client_id = d.id and g.entry ? 'pain' and g.performed_on > d.today - 14),
        (select count(*) from waiting_slots(trainer, d.id)),
        coalesce((
            select q.refers and not exists (
                select 1 from clearances k where k.trainer_id = q.trainer_id and k.screening_id = q.id)
            from screenings q where q.trainer_id = trainer and q.client_id = d.id
            order by q.answered_on desc, q.recorded_at desc, q.id desc limit 1), false)
    from days d
    left join ahead a on a.client_id = d.id
    left join past s on s.client_id = d.id
$$;
