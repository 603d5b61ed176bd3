-- Letters that wait to be delivered: tried again, ever more seldom, until they arrive.

-- The letter as it is delivered, until it was: what is shown leaves out what opens something.
alter table outbox add column whole text;
alter table outbox add column attempts smallint not null default 0;
-- When it is tried next; none once it was delivered or nobody tries any more.
alter table outbox add column next_try_at timestamptz;
-- What went wrong last.
alter table outbox add column trouble text not null default '';
create index outbox_due on outbox (next_try_at) where next_try_at is not null;
