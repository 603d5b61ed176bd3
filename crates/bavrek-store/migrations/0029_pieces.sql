-- A piece of kit that is renamed or measured anew stays the piece that it is: steps and logs know a band by that, not by its name alone.
-- Null where it is the first state of the piece.
alter table kit_items add column piece uuid;

-- A change is a removal and an addition at one place, one position and one moment.
with recursive states as (
    select k.trainer_id, k.id, k.id as piece, k.place_id, k.position, k.removed_at
    from kit_items k
    where not exists (
        select 1 from kit_items before
        where before.trainer_id = k.trainer_id and before.place_id = k.place_id and before.position = k.position
          and before.removed_at = k.added_at and before.id <> k.id)
    union all
    select k.trainer_id, k.id, s.piece, k.place_id, k.position, k.removed_at
    from states s
    join kit_items k on k.trainer_id = s.trainer_id and k.place_id = s.place_id and k.position = s.position
      and k.added_at = s.removed_at and k.id <> s.id
)
update kit_items k set piece = s.piece
from states s
where k.trainer_id = s.trainer_id and k.id = s.id and s.piece <> s.id;
