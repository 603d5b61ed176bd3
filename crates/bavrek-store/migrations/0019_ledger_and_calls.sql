-- Sets that say nothing of strength or of the next step, by the trainer's word. They were done all the same.
create table set_asides (
    trainer_id uuid not null,
    set_id uuid not null,
    client_id uuid not null,
    set_aside_at timestamptz not null default now(),
    primary key (trainer_id, set_id),
    foreign key (trainer_id, set_id) references logged_sets (trainer_id, id),
    foreign key (trainer_id, client_id) references clients (trainer_id, id)
);

-- Whoever keeps a log reads it again.
create function count_set_aside() returns trigger language plpgsql as $$
declare
    changed record;
begin
    changed := coalesce(new, old);
    update clients set logged = logged + 1 where trainer_id = changed.trainer_id and id = changed.client_id;
    return null;
end
$$;
create trigger set_asides_counted after insert or delete on set_asides
    for each row execute function count_set_aside();

-- A refusal is remembered with what was refused; a decision can be undone and stays on record.
alter table decisions
    add column refused boolean not null default false,
    add column note text not null default '' check (char_length(note) <= 300),
    add column proposed_step text,
    add column replaced_fit uuid,
    add column undone_at timestamptz,
    add foreign key (trainer_id, replaced_fit) references fits (trainer_id, id);
drop index decisions_once;
create unique index decisions_once on decisions (trainer_id, slot_id, after_set) where undone_at is null;

create or replace function waiting_slots(trainer uuid, client uuid) returns table (slot_id uuid) language sql stable as $$
    select t.id
    from sessions x
    join session_days d on d.trainer_id = x.trainer_id and d.session_id = x.id
    join blocks b on b.trainer_id = x.trainer_id and b.session_id = x.id
    join slots t on t.trainer_id = b.trainer_id and t.block_id = b.id and t.removed_at is null
    cross join lateral (
        select g.id, g.place_id, g.exercise from sets_in_force g
        left join workouts w on w.trainer_id = g.trainer_id and w.id = g.workout_id
        where g.trainer_id = t.trainer_id and g.slot_id = t.id
          and (not coalesce(w.light, false) or coalesce((g.entry->>'pain')::integer, 0) > 0)
        order by g.performed_on desc, g.logged_at desc, g.position desc, g.id desc limit 1) latest
    where x.trainer_id = trainer and x.client_id = client and x.removed_at is null
      and not exists (
        select 1 from decisions c
        where c.trainer_id = trainer and c.slot_id = t.id and c.after_set = latest.id and c.undone_at is null)
      and exists (
        select 1 from fits f
        where f.trainer_id = trainer and f.slot_id = t.id and f.place_id = latest.place_id
          and f.replaced_at is null and f.exercise = latest.exercise and f.turn in ('usual', d.turn)
          and (f.turn = d.turn or not exists (
            select 1 from fits o
            where o.trainer_id = trainer and o.slot_id = t.id and o.place_id = f.place_id
              and o.replaced_at is null and o.turn = d.turn)))
$$;

-- A month's summary goes out as well, with its pictures.
alter table outbox drop constraint outbox_kind_check;
alter table outbox add constraint outbox_kind_check check (kind in ('link', 'summary'));
alter table outbox add column pictures jsonb not null default '[]';
