-- Letters before a workout, to clients who want them.

alter table clients add column reminded text not null default 'never'
    check (reminded in ('never', 'evening_before', 'same_morning'));
create index clients_reminded on clients (trainer_id, id) where reminded <> 'never';

alter table outbox drop constraint outbox_kind_check;
alter table outbox add constraint outbox_kind_check
    check (kind in ('link', 'summary', 'reset', 'invitation', 'reminder', 'calendar'));
