-- What each client's log says of movements, worked out beside the pages and kept, and what it comes to for the trainer.
create table lessons (
    trainer_id uuid not null,
    client_id uuid not null,
    -- How often the log had grown when it was read, and the day on which that was.
    logged bigint not null,
    seen_on date not null,
    told jsonb not null,
    primary key (trainer_id, client_id),
    foreign key (trainer_id, client_id) references clients (trainer_id, id) on delete cascade
);
call stand_wall_around('lessons');

alter table trainers add column track_record jsonb;
-- Whether it leans the order of fits.
alter table trainers add column heeds_record boolean not null default true;
