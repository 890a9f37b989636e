-- Up Migration
-- Bytes of assets, frames and films lie in the file store, by hash; earlier ones stay here until they are moved there.
alter table asset
  alter column bytes drop not null,
  add column size bigint;
update asset set size = octet_length(bytes);
alter table asset
  alter column size set not null,
  drop constraint asset_size,
  add constraint asset_size check (size between 1 and 209715200);

alter table render_frame
  alter column picture drop not null,
  add column file text constraint render_frame_file_form check (file ~ '^[0-9a-f]{64}$'),
  add column size bigint not null default 0,
  add column took_ms integer,
  add column skipped boolean not null default false;
update render_frame set size = octet_length(picture);
alter table render_frame
  add constraint render_frame_somewhere check ((picture is null) <> (file is null));
create index render_frame_by_file on render_frame (file) where file is not null;

-- What a film is asked to be is judged in one place, by the server: see core/film.
alter table render_job
  drop constraint render_job_format,
  drop constraint render_job_alpha,
  drop constraint render_job_still,
  drop constraint render_job_status,
  add constraint render_job_status check (
    status in ('waiting', 'drawing', 'assembling', 'paused', 'held', 'done', 'failed', 'cancelled')
  ),
  add column film_file text constraint render_job_film_file_form check (film_file ~ '^[0-9a-f]{64}$'),
  -- All frames of a film are drawn with one library: that of the machine that drew the first.
  add column library text,
  add column turn text not null default 'normal' constraint render_job_turn check (turn in ('first', 'normal', 'later')),
  add column samples integer constraint render_job_samples check (samples between 1 and 4096),
  add column effects boolean not null default true,
  add column fresh boolean not null default false,
  add column skipped integer not null default 0;

-- Frames that could not be drawn, each time that it was tried.
create table render_trouble (
  job_id uuid not null references render_job (id) on delete cascade,
  frame integer not null,
  tries integer not null constraint render_trouble_tries check (tries > 0),
  reason text not null,
  machine text not null,
  at timestamptz not null default now(),
  primary key (job_id, frame)
);

-- What happened to a film, in words.
create table render_event (
  job_id uuid not null references render_job (id) on delete cascade,
  number bigint generated always as identity,
  at timestamptz not null default clock_timestamp(),
  words text not null,
  primary key (job_id, number)
);

-- Who draws now: made anew by whoever is there.
drop table render_machine;
create table render_machine (
  id uuid primary key,
  name text not null,
  drawing_library text,
  workers text[] not null,
  since timestamptz not null default now(),
  seen_at timestamptz not null default now(),
  doing text,
  frames integer not null default 0,
  drawn_ms bigint not null default 0
);
