-- Up Migration
-- Shots that a film's shot shows, as they were when the film was ordered: JSON by their ids.
alter table render_job add column inner_shots text not null default '{}';
