-- Up Migration
-- Changes are stored as they come, a document only now and then: the snapshot and the changes after it are the shot.
-- What lists show of a shot stands in columns, so that no list reads a document.
alter table shot
  add column first_frame integer not null default 1,
  add column last_frame integer not null default 96,
  add column rate_num integer not null default 24,
  add column rate_den integer not null default 1,
  add column width integer not null default 1280,
  add column height integer not null default 720,
  add column snapshot_revision integer not null default 0,
  -- Version of the document's form in the snapshot.
  add column snapshot_version integer not null default 0,
  -- Bytes of the snapshot and of the changes after it: what the document has at most.
  add column document_size bigint not null default 0;
update shot set
  first_frame = (document #>> '{setup,first}')::integer,
  last_frame = (document #>> '{setup,last}')::integer,
  rate_num = (document #>> '{setup,rate,num}')::integer,
  rate_den = (document #>> '{setup,rate,den}')::integer,
  width = (document #>> '{setup,width}')::integer,
  height = (document #>> '{setup,height}')::integer,
  snapshot_revision = revision,
  snapshot_version = (document ->> 'version')::integer,
  document_size = octet_length(document::text);

create table shot_snapshot (
  shot_id uuid not null references shot (id) on delete cascade,
  revision integer not null,
  -- JSON in UTF-8, in pieces of one mebibyte, so that a large one is sent without being held whole.
  piece integer not null,
  bytes bytea not null,
  primary key /* in its order */ (shot_id, revision, piece)
);
alter table shot_snapshot alter column bytes set compression lz4;
insert into shot_snapshot (shot_id, revision, piece, bytes)
  select s.id, s.revision, n, substring(s.bytes from n * 1048576 + 1 for 1048576)
  from (select id, revision, convert_to(document::text, 'UTF8') as bytes from shot) s,
    generate_series(0, (octet_length(s.bytes) - 1) / 1048576) n;
alter table shot drop column document;

-- As it was sent: JSON of any text, a NUL among it.
alter table shot_change alter column patches type text using patches::text;

alter table render_job
  add column rate_num integer not null default 24,
  add column rate_den integer not null default 1,
  add column drawn integer not null default 0,
  add column latest integer;
update render_job j set
  rate_num = (document #>> '{setup,rate,num}')::integer,
  rate_den = (document #>> '{setup,rate,den}')::integer,
  drawn = (select count(*) from render_frame f where f.job_id = j.id),
  latest = (select frame from render_frame f where f.job_id = j.id order by drawn_at desc, frame desc limit 1);
alter table render_job alter column document type text using document::text;
