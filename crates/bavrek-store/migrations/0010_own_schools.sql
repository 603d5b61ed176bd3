-- Schools of a trainer's own. Every change is a version of its own, so that a session keeps the one it was dosed by.
create table own_schools (
    trainer_id uuid not null references trainers (id),
    id uuid not null,
    version integer not null,
    name text not null,
    school jsonb not null,
    archived boolean not null default false,
    made_at timestamptz not null default now(),
    primary key (trainer_id, id, version)
);
alter table sessions
    add column school_id uuid,
    add column school_version integer,
    add foreign key (trainer_id, school_id, school_version) references own_schools (trainer_id, id, version);
