-- Up Migration
-- Sounds are kept beside pictures and meshes, and may be larger.
alter table asset
  drop constraint asset_type,
  add constraint asset_type check (
    type in (
      'image/png', 'image/jpeg', 'image/webp',
      'model/gltf-binary', 'model/gltf+json', 'model/obj', 'model/stl', 'application/x-ply',
      'audio/wav', 'audio/mpeg', 'audio/ogg', 'audio/flac'
    )
  ),
  drop constraint asset_size,
  add constraint asset_size check (octet_length(bytes) between 1 and 209715200);

-- What is worked out of a sound once: its wave, how loud it is and where things begin in it.
create table sound (
  hash text primary key references asset (hash) on delete cascade,
  seconds double precision not null constraint sound_length check (seconds > 0),
  channels integer not null constraint sound_channels check (channels > 0),
  state text not null default 'waiting' constraint sound_state check (state in ('waiting', 'ready', 'broken')),
  reason text,
  samples integer,
  peaks bytea,
  loudness bytea,
  flux bytea,
  struck boolean,
  constraint sound_worked_out check (
    (state = 'ready') = (samples is not null and peaks is not null and loudness is not null and flux is not null and struck is not null)
  )
);
