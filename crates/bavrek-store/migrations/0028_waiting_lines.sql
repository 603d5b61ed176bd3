-- Which turn it is was asked of every line, which took longer than all the rest: only where a line has a fit for one besides the usual
-- it matters.
create or replace view waiting_lines as
    select l.trainer_id, l.client_id, l.slot_id, l.performed_on, l.pain, l.seen
    from latest_sets l
    join slots t on t.trainer_id = l.trainer_id and t.id = l.slot_id and t.removed_at is null
    join blocks b on b.trainer_id = t.trainer_id and b.id = t.block_id
    join sessions x on x.trainer_id = b.trainer_id and x.id = b.session_id and x.removed_at is null
    where not exists (
        select 1 from decisions c
        where c.trainer_id = l.trainer_id and c.slot_id = l.slot_id and c.after_set = l.set_id and c.undone_at is null)
      and exists (
        select 1 from fits f
        where f.trainer_id = l.trainer_id and f.slot_id = l.slot_id and f.place_id = l.place_id and f.replaced_at is null
          and f.exercise = l.exercise
          and f.turn = case
              when exists (
                  select 1 from fits o
                  where o.trainer_id = l.trainer_id and o.slot_id = l.slot_id and o.place_id = l.place_id
                    and o.replaced_at is null and o.turn <> 'usual')
              then coalesce((
                  select o.turn from fits o
                  where o.trainer_id = l.trainer_id and o.slot_id = l.slot_id and o.place_id = l.place_id
                    and o.replaced_at is null and o.turn = turn_now(l.trainer_id, l.slot_id)), 'usual')
              else 'usual' end);
