-- Movements that a trainer adds from a copy of another. Nothing is deleted: what was logged with one stays explainable.
create table own_movements (
    trainer_id uuid not null references trainers (id),
    id uuid not null,
    name text not null check (char_length(name) between 1 and 120),
    movement jsonb not null,
    added_at timestamptz not null default now(),
    archived_at timestamptz,
    primary key (trainer_id, id)
);
