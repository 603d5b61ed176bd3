-- The latest set of each line on which a next step may rest, kept beside the log: whoever asks about all lines of all clients would
-- otherwise sort the sets of each. What was done in a lighter week asks for no decision, unless it hurt.
create table latest_sets (
    trainer_id uuid not null,
    slot_id uuid not null,
    client_id uuid not null,
    set_id uuid not null,
    place_id uuid,
    exercise text not null,
    performed_on date not null,
    pain integer,
    -- Whether something was seen to go wrong in it.
    seen boolean not null,
    primary key (trainer_id, slot_id),
    foreign key (trainer_id, slot_id) references slots (trainer_id, id) on delete cascade
);
create index latest_sets_client on latest_sets (trainer_id, client_id);
call stand_wall_around('latest_sets');

create function keep_latest_sets(trainer uuid, slots uuid[]) returns void language sql as $$
    with found as (
        select latest.* from unnest(slots) as one (slot_id)
        cross join lateral (
            select g.trainer_id, g.slot_id, g.client_id, g.id, g.place_id, g.exercise, g.performed_on,
                   (g.entry->>'pain')::integer as pain,
                   g.entry ? 'seen' or coalesce(g.entry->>'form_kept' = 'false', false) as seen
            from sets_in_force g
            left join workouts w on w.trainer_id = g.trainer_id and w.id = g.workout_id
            where g.trainer_id = trainer and g.slot_id = one.slot_id
              and (not coalesce(w.light, false) or coalesce((g.entry->>'pain')::integer, 0) > 0)
            order by g.performed_on desc, g.logged_at desc, g.position desc, g.id desc limit 1) latest),
    gone as (
        delete from latest_sets l
        where l.trainer_id = trainer and l.slot_id = any (slots)
          and not exists (select 1 from found f where f.slot_id = l.slot_id))
    insert into latest_sets (trainer_id, slot_id, client_id, set_id, place_id, exercise, performed_on, pain, seen)
    select trainer_id, slot_id, client_id, id, place_id, exercise, performed_on, pain, seen from found
    on conflict (trainer_id, slot_id) do update
        set set_id = excluded.set_id, place_id = excluded.place_id, exercise = excluded.exercise,
            performed_on = excluded.performed_on, pain = excluded.pain, seen = excluded.seen
$$;

-- Runs after the client's count was raised (triggers go by their names), which keeps two writers of one client from each other.
create function follow_the_log() returns trigger language plpgsql as $$
declare
    of_one record;
begin
    for of_one in
        select f.trainer_id, array_agg(distinct s.slot_id) as slots
        from fresh f
        cross join lateral (
            select f.slot_id
            union all
            select l.slot_id from logged_sets l where l.trainer_id = f.trainer_id and l.id = f.supersedes) s
        where s.slot_id is not null
        group by f.trainer_id
    loop
        perform keep_latest_sets(of_one.trainer_id, of_one.slots);
    end loop;
    return null;
end
$$;
create trigger logged_sets_followed after insert on logged_sets
    referencing new table as fresh for each statement execute function follow_the_log();

-- What a lighter week is can change after its sets.
create function follow_lighter_weeks() returns trigger language plpgsql as $$
begin
    perform 1 from clients c
    join sessions s on s.trainer_id = c.trainer_id and s.client_id = c.id
    where s.trainer_id = new.trainer_id and s.id = new.session_id
    for no key update of c;
    perform keep_latest_sets(new.trainer_id, array(
        select distinct slot_id from logged_sets
        where trainer_id = new.trainer_id and workout_id = new.id and slot_id is not null));
    return null;
end
$$;
create trigger workouts_lightened after update of light on workouts
    for each row when (old.light is distinct from new.light) execute function follow_lighter_weeks();

do $$
declare
    of_one record;
begin
    for of_one in
        select trainer_id, array_agg(distinct slot_id) as slots from logged_sets where slot_id is not null group by trainer_id
    loop
        perform keep_latest_sets(of_one.trainer_id, of_one.slots);
    end loop;
end
$$;
-- Of an empty table the planner would think for a minute that it joins one row.
analyze latest_sets;

-- Lines whose latest set nobody has decided about, where it was done with the movement that is in force there: that of the turn of
-- the session's next day where the line has one for it, else the usual one.
create view waiting_lines as
    select l.trainer_id, l.client_id, l.slot_id, l.performed_on, l.pain, l.seen
    from latest_sets l
    join slots t on t.trainer_id = l.trainer_id and t.id = l.slot_id and t.removed_at is null
    join blocks b on b.trainer_id = t.trainer_id and b.id = t.block_id
    join sessions x on x.trainer_id = b.trainer_id and x.id = b.session_id and x.removed_at is null
    where not exists (
        select 1 from decisions c
        where c.trainer_id = l.trainer_id and c.slot_id = l.slot_id and c.after_set = l.set_id and c.undone_at is null)
      and exists (
        select 1 from fits f
        where f.trainer_id = l.trainer_id and f.slot_id = l.slot_id and f.place_id = l.place_id and f.replaced_at is null
          and f.exercise = l.exercise
          and f.turn = case
              when exists (
                  select 1 from fits o
                  where o.trainer_id = l.trainer_id and o.slot_id = l.slot_id and o.place_id = l.place_id
                    and o.replaced_at is null and o.turn <> 'usual'
                    and o.turn = turn_now(l.trainer_id, l.slot_id))
              then turn_now(l.trainer_id, l.slot_id)
              else 'usual' end);

create or replace function waiting_slots(trainer uuid, client uuid) returns table (slot_id uuid) language sql stable as $$
    select w.slot_id from waiting_lines w where w.trainer_id = trainer and w.client_id = client
$$;
