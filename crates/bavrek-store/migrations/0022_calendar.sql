-- Workouts as a calendar that others follow.

-- A feed by an unguessable link, of which only the hash is kept: one of a client's workouts, one of all of a trainer's.
create table calendar_feeds (
    trainer_id uuid not null references trainers (id) on delete cascade,
    id uuid not null,
    -- None follows all clients.
    client_id uuid,
    hash bytea not null unique,
    -- When workouts begin, where that is said, and how many minutes before an alarm is given.
    starts_at time,
    alarm_minutes smallint check (alarm_minutes between 0 and 2880),
    made_at timestamptz not null,
    primary key (trainer_id, id),
    unique nulls not distinct (trainer_id, client_id),
    foreign key (trainer_id, client_id) references clients (trainer_id, id)
);

-- How often a workout was changed in what a calendar shows, and when last: whoever follows knows by it which of two is newer.
alter table workouts add column sequence integer not null default 0;
alter table workouts add column changed_at timestamptz not null default now();
create function raise_sequence() returns trigger language plpgsql as $$
begin
    new.sequence := old.sequence + 1;
    new.changed_at := now();
    return new;
end
$$;
create trigger workouts_changed before update of planned_on, place_id, state, let_go on workouts for each row
    when ((old.planned_on, old.place_id, old.state, old.let_go)
          is distinct from (new.planned_on, new.place_id, new.state, new.let_go))
    execute function raise_sequence();

-- Days that were taken out again: a calendar that has them is told that they do not take place.
create table workouts_out (
    trainer_id uuid not null,
    id uuid not null,
    session_id uuid not null,
    planned_on date not null,
    sequence integer not null,
    out_at timestamptz not null default now(),
    primary key (trainer_id, id),
    foreign key (trainer_id, session_id) references sessions (trainer_id, id)
);
create function keep_that_it_was_planned() returns trigger language plpgsql as $$
begin
    -- Of an erased client nothing is kept.
    if coalesce(current_setting('bavrek.erasing', true), '') = '' then
        insert into workouts_out (trainer_id, id, session_id, planned_on, sequence)
            values (old.trainer_id, old.id, old.session_id, old.planned_on, old.sequence + 1)
            on conflict (trainer_id, id) do nothing;
    end if;
    return null;
end
$$;
create trigger workouts_taken_out after delete on workouts for each row execute function keep_that_it_was_planned();

call stand_wall_around('calendar_feeds');
call stand_wall_around('workouts_out');
