-- Plans over weeks: a client has one at a time. Workouts are made from it as its weeks open, and know which week and which of a
-- line's fits is theirs.
create table plans (
    trainer_id uuid not null,
    id uuid not null,
    client_id uuid not null,
    name text not null check (char_length(name) between 1 and 120),
    plan jsonb not null,
    version integer not null default 0,
    made_at timestamptz not null default now(),
    ended_at timestamptz,
    primary key (trainer_id, id),
    foreign key (trainer_id, client_id) references clients (trainer_id, id)
);
create unique index plans_current on plans (trainer_id, client_id) where ended_at is null;

-- A week is claimed by whoever opens it, so that two processes do not both.
create table plan_weeks (
    trainer_id uuid not null,
    plan_id uuid not null,
    week smallint not null,
    claimed_at timestamptz not null default now(),
    opened_at timestamptz,
    -- The school by which its lines were dosed when a phase began with it.
    dosed_by text,
    notes jsonb not null default '[]',
    primary key (trainer_id, plan_id, week),
    foreign key (trainer_id, plan_id) references plans (trainer_id, id)
);

alter table workouts
    add column plan_id uuid,
    add column plan_week smallint,
    add column turn text not null default 'usual' check (turn in ('usual', 'other')),
    -- Half the sets and more in reserve.
    add column light boolean not null default false,
    -- A plan planned it and does no more; it stays because a session keeps one day at least.
    add column let_go boolean not null default false,
    add foreign key (trainer_id, plan_id) references plans (trainer_id, id);
create index workouts_plan on workouts (trainer_id, plan_id, plan_week) where plan_id is not null;

-- A line that alternates has a fit for every second week beside the usual one.
alter table fits add column turn text not null default 'usual' check (turn in ('usual', 'other'));
drop index fits_current;
create unique index fits_current on fits (trainer_id, slot_id, place_id, turn) where replaced_at is null;

-- The day of a session plan with its place, turn and whether it is lighter: the next one that is open, else the latest there was.
create or replace view session_days as
    select s.trainer_id, s.id as session_id, w.planned_on, w.state, w.place_id, w.turn, w.light
    from sessions s
    join lateral (
        select planned_on, state, turn, light,
               -- What is done or missed says nothing about where the next one is.
               case when state in ('planned', 'under_way') then place_id else s.place_id end as place_id
        from workouts
        where trainer_id = s.trainer_id and session_id = s.id
        order by state not in ('planned', 'under_way'),
                 case when state in ('planned', 'under_way') then planned_on end,
                 planned_on desc
        limit 1) w on true;

-- Where sessions were re-fitted, what was planned for the place that was left went along.
update workouts w set place_id = s.place_id from sessions s
    where s.trainer_id = w.trainer_id and s.id = w.session_id and w.state = 'planned' and w.place_id <> s.place_id;

-- The turn of a slot's session on its next day.
create function turn_now(trainer uuid, slot uuid) returns text language sql stable as $$
    select d.turn from slots s
    join blocks b on b.trainer_id = s.trainer_id and b.id = s.block_id
    join session_days d on d.trainer_id = b.trainer_id and d.session_id = b.session_id
    where s.trainer_id = trainer and s.id = slot
$$;

-- The fits in force for a turn: its own where there is one, else the usual one.
create function fits_for(trainer uuid, session uuid, wanted text) returns setof fits language sql stable as $$
    select distinct on (f.slot_id, f.place_id) f.*
    from blocks b
    join slots s on s.trainer_id = b.trainer_id and s.block_id = b.id
    join fits f on f.trainer_id = s.trainer_id and f.slot_id = s.id
    where b.trainer_id = trainer and b.session_id = session and f.replaced_at is null and f.turn in ('usual', wanted)
    order by f.slot_id, f.place_id, f.turn = wanted desc
$$;

-- Slots whose latest set that stands nobody has decided about. What was done in a lighter week asks for no decision, unless it
-- hurt.
create or replace function waiting_slots(trainer uuid, client uuid) returns table (slot_id uuid) language sql stable as $$
    select t.id
    from sessions x
    join session_days d on d.trainer_id = x.trainer_id and d.session_id = x.id
    join blocks b on b.trainer_id = x.trainer_id and b.session_id = x.id
    join slots t on t.trainer_id = b.trainer_id and t.block_id = b.id and t.removed_at is null
    cross join lateral (
        select g.id, g.place_id, g.exercise from sets_in_force g
        left join workouts w on w.trainer_id = g.trainer_id and w.id = g.workout_id
        where g.trainer_id = t.trainer_id and g.slot_id = t.id and (not coalesce(w.light, false) or coalesce((g.entry->>'pain')::integer, 0) > 0)
        order by g.performed_on desc, g.logged_at desc, g.position desc, g.id desc limit 1) latest
    where x.trainer_id = trainer and x.client_id = client and x.removed_at is null
      and not exists (
        select 1 from decisions c
        where c.trainer_id = trainer and c.slot_id = t.id and c.after_set = latest.id)
      and exists (
        select 1 from fits f
        where f.trainer_id = trainer and f.slot_id = t.id and f.place_id = latest.place_id
          and f.replaced_at is null and f.exercise = latest.exercise and f.turn in ('usual', d.turn)
          and (f.turn = d.turn or not exists (
            select 1 from fits o
            where o.trainer_id = trainer and o.slot_id = t.id and o.place_id = f.place_id
              and o.replaced_at is null and o.turn = d.turn)))
$$;
