-- Up Migration
-- Videos are kept beside pictures, with how many pictures they have and how many a second they show.
alter table asset
  drop constraint asset_type,
  add constraint asset_type check (
    type in (
      'image/png', 'image/jpeg', 'image/webp',
      'video/mp4', 'video/webm',
      'model/gltf-binary', 'model/gltf+json', 'model/obj', 'model/stl', 'application/x-ply',
      'audio/wav', 'audio/mpeg', 'audio/ogg', 'audio/flac'
    )
  ),
  drop constraint asset_picture_measured,
  add constraint asset_picture_measured check (
    (type like 'image/%' or type like 'video/%') = (width is not null and height is not null and alpha is not null)
  ),
  add column video jsonb,
  add constraint asset_video check ((video is not null) = (type in ('video/mp4', 'video/webm')));
