-- What was left out of a workout on purpose, and why. Taken up again it is a date, so that nothing that was said is lost.
create table skips (
    trainer_id uuid not null,
    id uuid not null,
    slot_id uuid not null,
    skipped_on date not null,
    reason text not null,
    made_at timestamptz not null default now(),
    taken_up_at timestamptz,
    primary key (trainer_id, id),
    foreign key (trainer_id, slot_id) references slots (trainer_id, id)
);
create unique index skips_once_a_day on skips (trainer_id, slot_id, skipped_on) where taken_up_at is null;
