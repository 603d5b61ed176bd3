-- The sessions that went out of the plan when a week was taken, so that each can come back.
alter table weeks add column instead uuid[] not null default '{}';
