-- Up Migration
-- Shots of a project one after another. How many frames it has stands in a column, so that no list reads a document.
create table reel (
  id uuid primary key default gen_random_uuid(),
  project_id uuid not null references project (id) on delete cascade,
  name text not null constraint reel_name_length check (length(name) between 1 and 80),
  document text not null,
  frames integer not null,
  rate_num integer not null,
  rate_den integer not null,
  revision integer not null default 0,
  created_at timestamptz not null default now(),
  changed_at timestamptz not null default now(),
  deleted_at timestamptz
);
create index reel_of_project on reel (project_id);

-- A film is of a shot, or of a reel: then its shots are among the inner ones.
alter table render_job
  alter column document drop not null,
  add column reel_id uuid references reel (id) on delete set null,
  add column reel text,
  add constraint render_job_of_something check ((document is null) <> (reel is null));
