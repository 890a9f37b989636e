-- Up Migration
-- Poses of figures that people keep under a name, with their project.
create table project_pose (
  project_id uuid not null references project (id) on delete cascade,
  name text not null constraint project_pose_name check (length(name) between 1 and 80),
  pose jsonb not null,
  kept_at timestamptz not null default clock_timestamp(),
  primary key /* named once in a project */ (project_id, name)
);
