-- Sessions, weeks and plans as lines without exercises, to be fitted to any client.
create table templates (
    trainer_id uuid not null references trainers (id),
    id uuid not null,
    name text not null check (char_length(name) between 1 and 80),
    template jsonb not null,
    made_at timestamptz not null default now(),
    archived_at timestamptz,
    primary key (trainer_id, id)
);
