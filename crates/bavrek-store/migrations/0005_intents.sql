-- Sessions and slots that trainers write themselves, the school a session follows, and how a trainer weighs a fit.

alter table sessions add column method text;
-- Two windows do not overwrite each other: a change names the version that it saw.
alter table sessions add column version integer not null default 0;
alter table slots add column version integer not null default 0;
-- What is taken out keeps its fits and its log.
alter table sessions add column removed_at timestamptz;
alter table slots add column removed_at timestamptz;

alter table trainers add column weights jsonb;

-- What was in the way, so that a second swap of the day knows it.
alter table spot_swaps add column trouble jsonb;

-- A slot or session that is taken out leaves no call.
create or replace function waiting_slots(trainer uuid, client uuid) returns table (slot_id uuid) language sql stable as $$
    select t.id
    from sessions x
    join blocks b on b.trainer_id = x.trainer_id and b.session_id = x.id
    join slots t on t.trainer_id = b.trainer_id and t.block_id = b.id and t.removed_at is null
    cross join lateral (
        select id, place_id, exercise from logged_sets g
        where g.trainer_id = t.trainer_id and g.slot_id = t.id
        order by performed_on desc, logged_at desc, position desc, id desc limit 1) latest
    where x.trainer_id = trainer and x.client_id = client and x.removed_at is null
      and not exists (
        select 1 from decisions d
        where d.trainer_id = trainer and d.slot_id = t.id and d.after_set = latest.id)
      and exists (
        select 1 from fits f
        where f.trainer_id = trainer and f.slot_id = t.id and f.place_id = latest.place_id
          and f.replaced_at is null and f.exercise = latest.exercise)
$$;
