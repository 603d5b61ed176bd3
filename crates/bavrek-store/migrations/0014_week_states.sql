-- Every state of a week that is moved by hand, in the order in which it came about, so that moves can be undone. The week says
-- which of them stands.
create table week_states (
    trainer_id uuid not null,
    week_id uuid not null,
    seq integer not null,
    draft jsonb not null,
    made_at timestamptz not null default now(),
    primary key (trainer_id, week_id, seq),
    foreign key (trainer_id, week_id) references weeks (trainer_id, id) on delete cascade
);
alter table weeks add column seq integer not null default 0;
