-- What stands ready for a slot at a place, should something be missing there: kept so that the phone has it at hand.
create table spares (
    trainer_id uuid not null,
    slot_id uuid not null,
    place_id uuid not null,
    -- What it stands in for.
    instead_of text not null,
    exercise text not null,
    step jsonb not null,
    made_at timestamptz not null default now(),
    primary key (trainer_id, slot_id, place_id),
    foreign key (trainer_id, slot_id) references slots (trainer_id, id),
    foreign key (trainer_id, place_id) references places (trainer_id, id)
);
