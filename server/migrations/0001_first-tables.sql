-- Up Migration
create table setting (
  key text primary key,
  value jsonb not null
);

create table project (
  id uuid primary key default gen_random_uuid(),
  name text not null constraint project_name_length check (length(name) between 1 and 80),
  created_at timestamptz not null default now(),
  changed_at timestamptz not null default now(),
  deleted_at timestamptz
);

create table shot (
  id uuid primary key default gen_random_uuid(),
  project_id uuid not null references project (id) on delete cascade,
  name text not null constraint shot_name_length check (length(name) between 1 and 80),
  document jsonb not null constraint shot_document_size check (pg_column_size(document) < 67108864),
  revision integer not null default 0,
  created_at timestamptz not null default now(),
  changed_at timestamptz not null default now(),
  deleted_at timestamptz,
  -- Small picture of the first frame for the card, and the revision it shows.
  picture bytea,
  picture_revision integer
);
create index shot_of_project on shot (project_id);

-- Every change ever kept, with its inverse inside the patches; the sender's id makes sending twice harmless.
create table shot_change (
  shot_id uuid not null references shot (id) on delete cascade,
  revision integer not null,
  sender_id uuid not null,
  label text not null constraint shot_change_label_length check (length(label) <= 200),
  patches jsonb not null,
  kept_at timestamptz not null default now(),
  primary key /* counted within its shot */ (shot_id, revision),
  constraint shot_change_sent_once unique (shot_id, sender_id)
);

create table render_job (
  id uuid primary key default gen_random_uuid(),
  shot_id uuid references shot (id) on delete set null,
  shot_name text not null,
  project_name text not null,
  document jsonb not null,
  first_frame integer not null,
  last_frame integer not null,
  width integer not null constraint render_job_width check (width between 16 and 8192),
  height integer not null constraint render_job_height check (height between 16 and 8192),
  format text not null constraint render_job_format check (format in ('png', 'mp4', 'webm')),
  alpha boolean not null default false constraint render_job_alpha check (not (alpha and format = 'mp4')),
  status text not null default 'waiting'
    constraint render_job_status check (status in ('waiting', 'drawing', 'assembling', 'done', 'failed', 'cancelled')),
  error text,
  created_at timestamptz not null default now(),
  started_at timestamptz,
  finished_at timestamptz,
  film_type text,
  film_size bigint,
  constraint render_job_range check (last_frame >= first_frame and last_frame - first_frame < 100000)
);

create table render_frame (
  job_id uuid not null references render_job (id) on delete cascade,
  frame integer not null,
  picture bytea not null,
  machine text not null,
  drawn_at timestamptz not null default now(),
  primary key (job_id, frame)
);

-- The finished film in pieces of one mebibyte, so that any stretch of it can be sent.
create table render_film (
  job_id uuid not null references render_job (id) on delete cascade,
  piece integer not null,
  bytes bytea not null,
  primary key (job_id, piece)
);

create table render_machine (
  worker_id text primary key,
  name text not null,
  drawing_library text,
  seen_at timestamptz not null default now()
);
