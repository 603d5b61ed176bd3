-- Links by which a client reaches the own workouts without an account. Only the hash of a link is kept.
create table links (
    trainer_id uuid not null,
    id uuid not null,
    client_id uuid not null,
    -- Where it reaches one session alone.
    session_id uuid,
    hash bytea not null,
    made_at timestamptz not null,
    -- The last day on which it opens.
    ends_on date,
    ended_at timestamptz,
    used_at timestamptz,
    primary key (trainer_id, id),
    foreign key (trainer_id, client_id) references clients (trainer_id, id),
    foreign key (trainer_id, session_id) references sessions (trainer_id, id)
);
-- Who opens one has nothing but the link: it is found before its trainer is known.
create unique index links_hash on links (hash);
create index links_client on links (trainer_id, client_id);

-- What a phone was given for a session: what it says of a turn is said of this.
create table handed (
    trainer_id uuid not null,
    session_id uuid not null,
    digest bytea not null,
    content jsonb not null,
    handed_at timestamptz not null default now(),
    primary key (trainer_id, session_id, digest),
    foreign key (trainer_id, session_id) references sessions (trainer_id, id)
);

-- What phones said, as they said it. It is kept before anything is made of it, whatever becomes of it: nothing is dropped
-- because it was refused. The same identifier with other content is another row, and a conflict.
create table entries (
    trainer_id uuid not null,
    id uuid not null,
    digest bytea not null,
    client_id uuid not null,
    session_id uuid not null,
    link_id uuid,
    body jsonb not null,
    -- When it was done, the phone's clock set right; and when it came.
    done_at timestamptz not null,
    came_at timestamptz not null,
    -- By how much the phone's clock was ahead, s.
    ahead_s double precision not null,
    state text not null default 'arrived'
        check (state in ('arrived', 'taken', 'waiting', 'conflict', 'refused', 'dismissed')),
    why text not null default '',
    settled_at timestamptz,
    primary key (trainer_id, id, digest),
    foreign key (trainer_id, client_id) references clients (trainer_id, id),
    foreign key (trainer_id, session_id) references sessions (trainer_id, id),
    foreign key (trainer_id, link_id) references links (trainer_id, id)
);
create index entries_client on entries (trainer_id, client_id, came_at desc);
create index entries_session on entries (trainer_id, session_id, done_at);
create index entries_open on entries (trainer_id, client_id) where state in ('waiting', 'conflict', 'refused');

-- What was noted in a workout.
create table workout_notes (
    trainer_id uuid not null,
    id uuid not null,
    session_id uuid not null,
    slot_id uuid,
    noted_on date not null,
    noted_at timestamptz not null,
    text text not null check (char_length(text) between 1 and 1000),
    primary key (trainer_id, id),
    foreign key (trainer_id, session_id) references sessions (trainer_id, id),
    foreign key (trainer_id, slot_id) references slots (trainer_id, id)
);
create index workout_notes_session on workout_notes (trainer_id, session_id, noted_on);

-- A workout that was ended before its last turn, and why.
alter table workouts add column ended_early text;

-- What was sent to clients. A link in it is told by its last characters alone.
create table outbox (
    trainer_id uuid not null,
    id uuid not null,
    client_id uuid not null,
    kind text not null check (kind in ('link')),
    recipient text not null,
    subject text not null,
    body text not null,
    written_at timestamptz not null,
    delivered_at timestamptz,
    primary key (trainer_id, id),
    foreign key (trainer_id, client_id) references clients (trainer_id, id)
);
create index outbox_written on outbox (trainer_id, written_at desc);

-- Whoever watches a session is told that something happened in it.
create function tell_of_slot() returns trigger language plpgsql as $$
declare
    found uuid;
begin
    if new.slot_id is not null then
        select b.session_id into found from slots s
            join blocks b on b.trainer_id = s.trainer_id and b.id = s.block_id
            where s.trainer_id = new.trainer_id and s.id = new.slot_id;
        if found is not null then
            perform pg_notify('bavrek_session', found::text);
        end if;
    end if;
    return null;
end
$$;
create trigger tell_of_sets after insert on logged_sets for each row execute function tell_of_slot();
create trigger tell_of_skips after insert or update on skips for each row execute function tell_of_slot();
create trigger tell_of_swaps after insert or update on spot_swaps for each row execute function tell_of_slot();

create function tell_of_session() returns trigger language plpgsql as $$
begin
    perform pg_notify('bavrek_session', new.session_id::text);
    return null;
end
$$;
create trigger tell_of_workouts after update of state on workouts
    for each row when (old.state is distinct from new.state) execute function tell_of_session();
create trigger tell_of_notes after insert on workout_notes for each row execute function tell_of_session();
