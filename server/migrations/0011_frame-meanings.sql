-- Up Migration
-- What a frame shows, as a hash: a frame that shows the same is taken over, not drawn again.
alter table render_frame
  add column meaning text constraint render_frame_meaning check (meaning ~ '^[0-9a-f]{64}$');
create index render_frame_by_meaning on render_frame (meaning) where meaning is not null;

alter table render_job
  add column taken integer not null default 0 constraint render_job_taken check (taken >= 0);
