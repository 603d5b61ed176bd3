-- A session plan is performed on many days: each day is a workout. Fits, calls and history hang on the plan's slots, so
-- they live on from one day to the next.
create table workouts (
    trainer_id uuid not null,
    id uuid not null,
    session_id uuid not null,
    place_id uuid not null,
    planned_on date not null,
    state text not null default 'planned' check (state in ('planned', 'under_way', 'done', 'missed')),
    -- Where it was planned for another day before.
    moved_from date,
    started_at timestamptz,
    finished_at timestamptz,
    -- The turns as they were given when it began.
    script jsonb,
    created_at timestamptz not null default now(),
    primary key (trainer_id, id),
    foreign key (trainer_id, session_id) references sessions (trainer_id, id),
    foreign key (trainer_id, place_id) references places (trainer_id, id)
);
create unique index workouts_once_a_day on workouts (trainer_id, session_id, planned_on);
create index workouts_open on workouts (trainer_id, session_id) where state in ('planned', 'under_way');

-- When a set was done: what rests are counted from. Rows of before have only the time at which they arrived.
alter table logged_sets add column done_at timestamptz;
update logged_sets set done_at = logged_at where source = 'session';
alter table logged_sets add column workout_id uuid;

-- Days on which was trained are workouts that are done; the planned day is one of them, or still to come.
insert into workouts (trainer_id, id, session_id, place_id, planned_on, state, started_at, finished_at)
    select l.trainer_id, gen_random_uuid(), b.session_id, (array_agg(l.place_id order by l.logged_at desc))[1],
           l.performed_on, 'done', min(l.logged_at), max(l.logged_at)
    from logged_sets l
    join slots s on s.trainer_id = l.trainer_id and s.id = l.slot_id
    join blocks b on b.trainer_id = s.trainer_id and b.id = s.block_id
    where l.source = 'session'
    group by l.trainer_id, b.session_id, l.performed_on;
insert into workouts (trainer_id, id, session_id, place_id, planned_on)
    select trainer_id, gen_random_uuid(), id, place_id, planned_on from sessions
    on conflict (trainer_id, session_id, planned_on) do nothing;
update logged_sets l set workout_id = w.id
    from slots s
    join blocks b on b.trainer_id = s.trainer_id and b.id = s.block_id
    join workouts w on w.trainer_id = b.trainer_id and w.session_id = b.session_id
    where l.source = 'session' and s.trainer_id = l.trainer_id and s.id = l.slot_id and w.planned_on = l.performed_on;
alter table logged_sets add foreign key (trainer_id, workout_id) references workouts (trainer_id, id);
create index logged_sets_workout on logged_sets (trainer_id, workout_id) where workout_id is not null;

drop index sessions_client;
alter table sessions drop column planned_on;
create index sessions_client on sessions (trainer_id, client_id);

-- The day of a session plan: the next one that is open, else the latest there was.
create view session_days as
    select s.trainer_id, s.id as session_id, w.planned_on, w.state
    from sessions s
    join lateral (
        select planned_on, state from workouts
        where trainer_id = s.trainer_id and session_id = s.id
        order by state not in ('planned', 'under_way'),
                 case when state in ('planned', 'under_way') then planned_on end,
                 planned_on desc
        limit 1) w on true;

-- What of the log stands: neither superseded nor withdrawn. Whoever asks what was done reads this.
create view sets_in_force as
    select l.* from logged_sets l
    where not l.withdrawn
      and not exists (select 1 from logged_sets n where n.trainer_id = l.trainer_id and n.supersedes = l.id);

-- Slots whose latest set that stands nobody has decided about.
create or replace function waiting_slots(trainer uuid, client uuid) returns table (slot_id uuid) language sql stable as $$
    select t.id
    from sessions x
    join blocks b on b.trainer_id = x.trainer_id and b.session_id = x.id
    join slots t on t.trainer_id = b.trainer_id and t.block_id = b.id and t.removed_at is null
    cross join lateral (
        select g.id, g.place_id, g.exercise from sets_in_force g
        where g.trainer_id = t.trainer_id and g.slot_id = t.id
        order by g.performed_on desc, g.logged_at desc, g.position desc, g.id desc limit 1) latest
    where x.trainer_id = trainer and x.client_id = client and x.removed_at is null
      and not exists (
        select 1 from decisions d
        where d.trainer_id = trainer and d.slot_id = t.id and d.after_set = latest.id)
      and exists (
        select 1 from fits f
        where f.trainer_id = trainer and f.slot_id = t.id and f.place_id = latest.place_id
          and f.replaced_at is null and f.exercise = latest.exercise)
$$;
