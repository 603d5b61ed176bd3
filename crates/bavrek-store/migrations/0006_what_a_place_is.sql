-- What kind of place it is, so that advice fits it; unknown for places of before.
alter table places add column setting text check (setting in ('doors', 'outdoors', 'hotel'));
-- A place with a purchase in it that is only thought about: the place it started from. Kept by name, it becomes a place.
alter table places add column proposal_of uuid;
alter table places add foreign key (trainer_id, proposal_of) references places (trainer_id, id);

-- What goes along wherever the client trains.
alter table kit_items add column travels boolean not null default false;

-- Joints that hurt and were declared settled: pain told before counts no longer. Pain itself is read from the log and
-- from swaps on the spot.
create table pain_settled (
    trainer_id uuid not null,
    id uuid not null,
    client_id uuid not null,
    joint text,
    settled_at timestamptz not null default now(),
    primary key (trainer_id, id),
    foreign key (trainer_id, client_id) references clients (trainer_id, id)
);
create index pain_settled_client on pain_settled (trainer_id, client_id);

-- What a trainer has decided where schools differ.
alter table trainers add column leanings jsonb;
