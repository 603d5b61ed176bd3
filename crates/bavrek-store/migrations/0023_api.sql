-- Programs that work for a trainer: what opens the door to them, and what they were answered.

-- Tokens of which only the hash is kept. What one may is said when it is made.
create table api_tokens (
    trainer_id uuid not null references trainers (id) on delete cascade,
    id uuid not null,
    name text not null,
    hash bytea not null unique,
    scopes text[] not null check (cardinality(scopes) > 0),
    made_at timestamptz not null,
    -- The last day on which it opens.
    ends_on date,
    used_at timestamptz,
    revoked_at timestamptz,
    primary key (trainer_id, id)
);

-- Answers by the key that a program gave its request: sent again, it is answered again and done once. Without a status it is under way.
create table api_answers (
    trainer_id uuid not null references trainers (id) on delete cascade,
    key text not null,
    request bytea not null,
    status smallint,
    kind text,
    body bytea,
    asked_at timestamptz not null,
    primary key (trainer_id, key)
);
create index api_answers_by_age on api_answers (asked_at);

call stand_wall_around('api_tokens');
call stand_wall_around('api_answers');
