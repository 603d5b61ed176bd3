-- Taking a client in: profile with history, screening and clearance, limits with history, places, aims, first sets,
-- observations. Nothing is deleted: what is removed or replaced keeps its row with a date.

alter table clients
    add column version integer not null default 1,
    add column archived_at timestamptz,
    add column age_band text,
    add column aim text,
    add column days_a_week smallint check (days_a_week between 1 and 7),
    add column minutes smallint check (minutes between 10 and 240),
    add column mass_unit text not null default 'kg' check (mass_unit in ('kg', 'lb')),
    add column contact text not null default '',
    add constraint clients_note_length check (char_length(note) <= 5000);
create index clients_by_name on clients (trainer_id, lower(name));

create table body_masses (
    trainer_id uuid not null,
    id uuid not null,
    client_id uuid not null,
    measured_on date not null,
    mass_kg double precision not null,
    recorded_at timestamptz not null default now(),
    primary key (trainer_id, id),
    foreign key (trainer_id, client_id) references clients (trainer_id, id)
);
create index body_masses_client on body_masses (trainer_id, client_id, measured_on);
insert into body_masses (trainer_id, id, client_id, measured_on, mass_kg, recorded_at)
    select trainer_id, gen_random_uuid(), id, created_at::date, body_mass_kg, created_at from clients;

-- A changed limit is a new row that takes the place of the old one.
alter table limits
    add column recorded_at timestamptz not null default now(),
    add column replaces uuid,
    add column removed_at timestamptz,
    add constraint limits_replaces foreign key (trainer_id, replaces) references limits (trainer_id, id);
create index limits_client on limits (trainer_id, client_id);
create unique index limits_replaced_once on limits (trainer_id, replaces) where replaces is not null;

create table screenings (
    trainer_id uuid not null,
    id uuid not null,
    client_id uuid not null,
    answered_on date not null,
    answers jsonb not null,
    -- Whether an answer calls for a doctor or physiotherapist, as judged when it was given.
    refers boolean not null,
    note text not null default '',
    recorded_at timestamptz not null default now(),
    primary key (trainer_id, id),
    foreign key (trainer_id, client_id) references clients (trainer_id, id)
);
create index screenings_client on screenings (trainer_id, client_id, answered_on);

create table clearances (
    trainer_id uuid not null,
    id uuid not null,
    screening_id uuid not null,
    given_by text not null check (char_length(given_by) between 1 and 200),
    given_on date not null,
    note text not null default '',
    recorded_at timestamptz not null default now(),
    primary key (trainer_id, id),
    foreign key (trainer_id, screening_id) references screenings (trainer_id, id)
);
create index clearances_screening on clearances (trainer_id, screening_id);

alter table places
    add column version integer not null default 1,
    add column archived_at timestamptz,
    add column removed_at timestamptz;
create index places_client on places (trainer_id, client_id);

-- The answers to "will it hold, will it slip?" of improvised things; they are not used before.
alter table kit_items add column stability jsonb;

-- Every change of aims is a new row; the newest is in force.
create table aims (
    trainer_id uuid not null,
    id uuid not null,
    client_id uuid not null,
    aims jsonb not null,
    set_on date not null,
    recorded_at timestamptz not null default now(),
    replaces uuid,
    primary key (trainer_id, id),
    foreign key (trainer_id, client_id) references clients (trainer_id, id),
    foreign key (trainer_id, replaces) references aims (trainer_id, id)
);
create unique index aims_replaced_once on aims (trainer_id, client_id, replaces) nulls not distinct;

-- Sets told or tested outside any session are evidence like any other; a withdrawal supersedes like a correction.
alter table logged_sets
    alter column slot_id drop not null,
    alter column place_id drop not null,
    add column source text not null default 'session' check (source in ('session', 'told', 'test')),
    add column withdrawn boolean not null default false,
    add constraint logged_sets_source check ((source = 'session') = (slot_id is not null));
-- In the order in which a log is read.
drop index logged_sets_client;
create index logged_sets_client on logged_sets (trainer_id, client_id, performed_on, logged_at, position, id);
create index logged_sets_pain on logged_sets (trainer_id, client_id, performed_on) where entry ? 'pain';
create index logged_sets_slot on logged_sets (trainer_id, slot_id, performed_on desc, logged_at desc, position desc, id desc);

create table observations (
    trainer_id uuid not null,
    id uuid not null,
    client_id uuid not null,
    seen_on date not null,
    kind text not null,
    side text,
    note text not null check (char_length(note) between 1 and 5000),
    recorded_at timestamptz not null default now(),
    removed_at timestamptz,
    primary key (trainer_id, id),
    foreign key (trainer_id, client_id) references clients (trainer_id, id)
);
create index observations_client on observations (trainer_id, client_id, seen_on);

create index blocks_session on blocks (trainer_id, session_id);
create index slots_block on slots (trainer_id, block_id);

-- Slots of a client whose latest set nobody has decided about. A movement that was swapped away since leaves no call.
create function waiting_slots(trainer uuid, client uuid) returns table (slot_id uuid) language sql stable as $$
    select t.id
    from sessions x
    join blocks b on b.trainer_id = x.trainer_id and b.session_id = x.id
    join slots t on t.trainer_id = b.trainer_id and t.block_id = b.id
    cross join lateral (
        select id, place_id, exercise from logged_sets g
        where g.trainer_id = t.trainer_id and g.slot_id = t.id
        order by performed_on desc, logged_at desc, position desc, id desc limit 1) latest
    where x.trainer_id = trainer and x.client_id = client
      and not exists (
        select 1 from decisions d
        where d.trainer_id = trainer and d.slot_id = t.id and d.after_set = latest.id)
      and exists (
        select 1 from fits f
        where f.trainer_id = trainer and f.slot_id = t.id and f.place_id = latest.place_id
          and f.replaced_at is null and f.exercise = latest.exercise)
$$;
