-- Weeks as they were proposed: what was shown is what is taken. One that nobody took goes after a month.
create table weeks (
    trainer_id uuid not null,
    id uuid not null,
    client_id uuid not null,
    draft jsonb not null,
    made_at timestamptz not null default now(),
    taken_at timestamptz,
    primary key (trainer_id, id),
    foreign key (trainer_id, client_id) references clients (trainer_id, id)
);
create index weeks_client on weeks (trainer_id, client_id, made_at);
