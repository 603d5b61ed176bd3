-- Accounts: how one comes by one, what they are signed in on, what stands between guesses and a password.

-- Raised with every change of a trainer's own movements, so that what was read of them can be kept until then.
alter table trainers add column catalogue_version integer not null default 0;
-- Since when an account is closed: nobody signs in to it, and whoever was is out.
alter table trainers add column disabled_at timestamptz;
-- The secret of the second step, where there is one, and the time step of the code that was used last.
alter table trainers add column code_secret bytea;
alter table trainers add column code_used bigint not null default 0;

create function raise_catalogue_version() returns trigger language plpgsql as $$
begin
    update trainers set catalogue_version = catalogue_version + 1
        where id = coalesce(new.trainer_id, old.trainer_id);
    return null;
end
$$;
create trigger own_movements_changed after insert or update or delete on own_movements
    for each row execute function raise_catalogue_version();

-- Codes for the day on which the device with the second step is lost. Each opens once.
create table recovery_codes (
    trainer_id uuid not null references trainers (id) on delete cascade,
    hash bytea not null,
    primary key (trainer_id, hash)
);

-- Links by which an account is made or a password set anew. Only their hashes are kept, each opens once.
create table account_links (
    hash bytea primary key,
    kind text not null check (kind in ('invitation', 'reset')),
    email text not null,
    name text not null default '',
    trainer_id uuid references trainers (id) on delete cascade,
    made_at timestamptz not null,
    ends_at timestamptz not null,
    used_at timestamptz,
    check ((kind = 'reset') = (trainer_id is not null))
);

-- Guesses, by what they are counted for: the hash of an address, a source or a second step.
create table sign_in_tries (
    key bytea primary key,
    tries integer not null,
    last_at timestamptz not null,
    -- No guess is looked at before.
    opens_at timestamptz not null
);
create index sign_in_tries_last on sign_in_tries (last_at);

-- A session is known by the hash of its identifier, so that whoever reads the database cannot take one over; what was kept
-- under identifiers that can be read ends here. What belongs to a trainer is a device that is signed in.
delete from http_sessions;
alter table http_sessions add column trainer_id uuid references trainers (id) on delete cascade;
alter table http_sessions add column handle uuid not null default gen_random_uuid();
alter table http_sessions add column began_at timestamptz not null default now();
alter table http_sessions add column seen_at timestamptz not null default now();
create index http_sessions_of_trainer on http_sessions (trainer_id);

-- Letters about an account concern no client.
alter table outbox alter column client_id drop not null;
alter table outbox drop constraint outbox_kind_check;
alter table outbox add constraint outbox_kind_check check (kind in ('link', 'summary', 'reset'));

-- What was agreed with a client about their data, and until when it is kept.
alter table clients add column consent text not null default '';
alter table clients add column keep_until date;

-- What was done with accounts and with people's data: by whom and when, never to whom by name.
create table deeds (
    trainer_id uuid not null references trainers (id) on delete cascade,
    id uuid not null,
    at timestamptz not null,
    what text not null check (what in ('signed_in', 'password_changed', 'second_step', 'taken_out', 'erased')),
    detail text not null default '',
    primary key (trainer_id, id)
);
create index deeds_of_trainer on deeds (trainer_id, at desc);
