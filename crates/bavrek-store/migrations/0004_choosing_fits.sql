-- Choosing fits: what is put aside for a client, fits that stay at every re-fit, and swaps on the spot.

create table put_aside (
    trainer_id uuid not null,
    id uuid not null,
    client_id uuid not null,
    exercise text not null,
    reason text not null check (char_length(reason) between 1 and 300),
    put_at timestamptz not null default now(),
    taken_back_at timestamptz,
    primary key (trainer_id, id),
    foreign key (trainer_id, client_id) references clients (trainer_id, id)
);
create unique index put_aside_once on put_aside (trainer_id, client_id, exercise) where taken_back_at is null;

alter table fits add column pinned boolean not null default false;

-- A swap holds for its day: the plan's fit stays in force.
create table spot_swaps (
    trainer_id uuid not null,
    id uuid not null,
    slot_id uuid not null,
    place_id uuid not null,
    swapped_on date not null,
    -- What it stands in for.
    instead_of text not null,
    exercise text not null,
    step jsonb not null,
    prescription jsonb not null,
    reason text not null check (char_length(reason) between 1 and 300),
    swapped_at timestamptz not null default now(),
    taken_back_at timestamptz,
    primary key (trainer_id, id),
    foreign key (trainer_id, slot_id) references slots (trainer_id, id),
    foreign key (trainer_id, place_id) references places (trainer_id, id)
);
create index spot_swaps_slot on spot_swaps (trainer_id, slot_id, swapped_on, swapped_at);
