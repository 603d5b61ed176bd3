-- Every state of a session's board, in the order in which it came about, so that what was moved can be undone and done
-- again. The session says which of them stands.
create table boards (
    trainer_id uuid not null,
    session_id uuid not null,
    seq integer not null,
    layout jsonb not null,
    made_at timestamptz not null default now(),
    primary key (trainer_id, session_id, seq),
    foreign key (trainer_id, session_id) references sessions (trainer_id, id)
);
alter table sessions add column board integer not null default 0;
