-- Up Migration
-- What a film is called when it is downloaded, and how finely it is written.
alter table render_job
  add column file_name text constraint render_job_file_name check (length(file_name) between 1 and 120),
  add column quality text not null default 'high' constraint render_job_quality check (quality in ('best', 'high', 'small'));
