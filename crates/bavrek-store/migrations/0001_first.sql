-- Every table that belongs to a trainer carries trainer_id in its primary key and in every foreign key, so that no row
-- can point across trainers and the tables can be distributed by trainer.

create table trainers (
    id uuid primary key,
    email text not null,
    name text not null,
    password_hash text not null,
    mass_unit text not null default 'kg' check (mass_unit in ('kg', 'lb')),
    created_at timestamptz not null default now()
);
create unique index trainers_email on trainers (lower(email));

create table http_sessions (
    id text primary key,
    record jsonb not null,
    expires_at timestamptz not null
);
create index http_sessions_expiry on http_sessions (expires_at);

create table clients (
    trainer_id uuid not null references trainers (id),
    id uuid not null,
    name text not null check (char_length(name) between 1 and 120),
    body_mass_kg double precision not null,
    height_m double precision not null,
    experience text not null,
    birth_year smallint,
    sex text,
    goal text not null default '',
    time_zone text not null default 'UTC',
    note text not null default '',
    created_at timestamptz not null default now(),
    primary key (trainer_id, id)
);

create table limits (
    trainer_id uuid not null,
    id uuid not null,
    client_id uuid not null,
    rule jsonb not null,
    since date not null,
    until date,
    note text not null default '',
    primary key (trainer_id, id),
    foreign key (trainer_id, client_id) references clients (trainer_id, id)
);

create table places (
    trainer_id uuid not null,
    id uuid not null,
    client_id uuid not null,
    name text not null check (char_length(name) between 1 and 120),
    primary key (trainer_id, id),
    foreign key (trainer_id, client_id) references clients (trainer_id, id)
);

-- Kit is never deleted: plans made earlier stay explainable, and a removal can be undone.
create table kit_items (
    trainer_id uuid not null,
    id uuid not null,
    place_id uuid not null,
    item jsonb not null,
    position integer not null,
    added_at timestamptz not null default now(),
    removed_at timestamptz,
    primary key (trainer_id, id),
    foreign key (trainer_id, place_id) references places (trainer_id, id)
);
create index kit_items_place on kit_items (trainer_id, place_id);

create table sessions (
    trainer_id uuid not null,
    id uuid not null,
    client_id uuid not null,
    place_id uuid not null,
    name text not null,
    planned_on date not null,
    minutes smallint not null,
    primary key (trainer_id, id),
    foreign key (trainer_id, client_id) references clients (trainer_id, id),
    foreign key (trainer_id, place_id) references places (trainer_id, id)
);
create index sessions_client on sessions (trainer_id, client_id, planned_on);

create table blocks (
    trainer_id uuid not null,
    id uuid not null,
    session_id uuid not null,
    position smallint not null,
    kind text not null,
    primary key (trainer_id, id),
    foreign key (trainer_id, session_id) references sessions (trainer_id, id)
);

create table slots (
    trainer_id uuid not null,
    id uuid not null,
    block_id uuid not null,
    position smallint not null,
    intent jsonb not null,
    primary key (trainer_id, id),
    foreign key (trainer_id, block_id) references blocks (trainer_id, id)
);

-- A fit stays when another replaces it: what was done earlier was done with it.
create table fits (
    trainer_id uuid not null,
    id uuid not null,
    slot_id uuid not null,
    place_id uuid not null,
    exercise text not null,
    step jsonb not null,
    prescription jsonb not null,
    taken_at timestamptz not null default now(),
    replaced_at timestamptz,
    primary key (trainer_id, id),
    foreign key (trainer_id, slot_id) references slots (trainer_id, id),
    foreign key (trainer_id, place_id) references places (trainer_id, id)
);
create unique index fits_current on fits (trainer_id, slot_id, place_id) where replaced_at is null;

-- The log is append-only: a correction is a new row that supersedes the old one.
create table logged_sets (
    trainer_id uuid not null,
    id uuid not null,
    client_id uuid not null,
    slot_id uuid not null,
    place_id uuid not null,
    position smallint not null,
    performed_on date not null,
    exercise text not null,
    entry jsonb not null,
    effective_kg double precision not null,
    model_version smallint not null,
    supersedes uuid,
    logged_at timestamptz not null default now(),
    primary key (trainer_id, id),
    foreign key (trainer_id, client_id) references clients (trainer_id, id),
    foreign key (trainer_id, slot_id) references slots (trainer_id, id),
    foreign key (trainer_id, place_id) references places (trainer_id, id),
    foreign key (trainer_id, supersedes) references logged_sets (trainer_id, id)
);
create index logged_sets_client on logged_sets (trainer_id, client_id, performed_on);
create unique index logged_sets_superseded_once on logged_sets (trainer_id, supersedes) where supersedes is not null;

-- Calls are derived from the log; only what the trainer decided about them is kept.
create table decisions (
    trainer_id uuid not null,
    id uuid not null,
    slot_id uuid not null,
    fit_id uuid not null,
    proposed text not null,
    decided text not null,
    reasons jsonb not null,
    after_set uuid not null,
    decided_at timestamptz not null default now(),
    primary key (trainer_id, id),
    foreign key (trainer_id, slot_id) references slots (trainer_id, id),
    foreign key (trainer_id, fit_id) references fits (trainer_id, id),
    foreign key (trainer_id, after_set) references logged_sets (trainer_id, id)
);
create unique index decisions_once on decisions (trainer_id, slot_id, after_set);
