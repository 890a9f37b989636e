-- Up Migration
-- Ways to make a film that people keep under a name, with their project.
create table project_preset (
  project_id uuid not null references project (id) on delete cascade,
  name text not null constraint project_preset_name check (length(name) between 1 and 80),
  preset jsonb not null,
  kept_at timestamptz not null default clock_timestamp(),
  primary key /* named once in a project */ (project_id, name)
);
