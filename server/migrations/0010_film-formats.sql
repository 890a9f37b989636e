-- Up Migration
-- Films for cutting, moving pictures and single ones.
alter table render_job
  drop constraint render_job_format,
  add constraint render_job_format check (
    format in ('png', 'mp4', 'av1', 'webm', 'mov', 'gif', 'webp', 'still', 'jpeg')
  ),
  drop constraint render_job_alpha,
  add constraint render_job_alpha check (not (alpha and format in ('mp4', 'av1', 'jpeg'))),
  add constraint render_job_still check (format not in ('still', 'jpeg') or first_frame = last_frame);
