-- Up Migration
-- Pictures and meshes, stored once by the SHA-256 of their bytes.
create table asset (
  hash text constraint asset_pkey primary key constraint asset_hash_form check (hash ~ '^[0-9a-f]{64}$'),
  type text not null constraint asset_type check (
    type in (
      'image/png', 'image/jpeg', 'image/webp',
      'model/gltf-binary', 'model/gltf+json', 'model/obj', 'model/stl', 'application/x-ply'
    )
  ),
  bytes bytea not null constraint asset_size check (octet_length(bytes) between 1 and 104857600),
  width integer constraint asset_width check (width between 1 and 8192),
  height integer constraint asset_height check (height between 1 and 8192),
  alpha boolean,
  created_at timestamptz not null default now(),
  constraint asset_picture_measured check ((type like 'image/%') = (width is not null and height is not null and alpha is not null))
);
