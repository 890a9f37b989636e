import type { MeshFormat } from '../document';
import { refuseGltf, splitGlb } from './gltf';

export type SoundType = 'audio/wav' | 'audio/mpeg' | 'audio/ogg' | 'audio/flac';
export type VideoType = 'video/mp4' | 'video/webm';
export type PictureType = 'image/png' | 'image/jpeg' | 'image/webp';

/** What bytes are, told from the bytes alone. */
export type FileKind =
  | { readonly kind: 'picture'; readonly type: PictureType }
  | { readonly kind: 'video'; readonly type: VideoType }
  | { readonly kind: 'mesh'; readonly format: MeshFormat }
  | { readonly kind: 'sound'; readonly type: SoundType }
  | { readonly kind: 'notes' }
  | { readonly kind: 'svg' }
  | { readonly kind: 'unknown' };

export const PICTURE_BYTES = 40 * 1024 * 1024;
export const MESH_BYTES = 100 * 1024 * 1024;
export const SOUND_BYTES = 200 * 1024 * 1024;
export const VIDEO_BYTES = SOUND_BYTES;

export const MESH_TYPES: Record<MeshFormat, string> = {
  glb: 'model/gltf-binary',
  gltf: 'model/gltf+json',
  obj: 'model/obj',
  stl: 'model/stl',
  ply: 'application/x-ply',
};

/** As much of the beginning of a file as its kind is told from, in bytes. */
export const LOOKED_AT = 4096;

function startsWith(bytes: Uint8Array, signature: readonly number[], at = 0): boolean {
  return signature.every((byte, i) => bytes[at + i] === byte);
}

/**
 * Kind of a sound: WAV (RIFF/WAVE), FLAC ("fLaC", RFC 9639), Ogg ("OggS", RFC 3533), MPEG audio (ID3 or the sync word of
 * layer III, ISO/IEC 11172-3).
 */
function soundType(bytes: Uint8Array): SoundType | null {
  if (startsWith(bytes, [0x52, 0x49, 0x46, 0x46]) && startsWith(bytes, [0x57, 0x41, 0x56, 0x45], 8))
    return 'audio/wav';
  if (startsWith(bytes, [0x66, 0x4c, 0x61, 0x43])) return 'audio/flac';
  if (startsWith(bytes, [0x4f, 0x67, 0x67, 0x53])) return 'audio/ogg';
  const layer3 = bytes[0] === 0xff && (bytes[1]! & 0xe0) === 0xe0 && ((bytes[1]! >> 1) & 3) === 1;
  if (startsWith(bytes, [0x49, 0x44, 0x33]) || (layer3 && (bytes[2]! & 0xf0) !== 0xf0)) return 'audio/mpeg';
  return null;
}

/** Kind of a video: MP4 and MOV ("ftyp", ISO/IEC 14496-12, 4.3), WebM and Matroska (EBML head, RFC 8794, 11.2.2). */
function videoType(bytes: Uint8Array): VideoType | null {
  if (startsWith(bytes, [0x66, 0x74, 0x79, 0x70], 4)) return 'video/mp4';
  return startsWith(bytes, [0x1a, 0x45, 0xdf, 0xa3]) ? 'video/webm' : null;
}

/** The beginning of a file read as Latin-1, enough to tell formats that are text. */
function opening(bytes: Uint8Array): string {
  let text = '';
  for (const byte of bytes.subarray(0, LOOKED_AT)) text += String.fromCharCode(byte);
  return text;
}

/**
 * The type of a file. Signatures: PNG (ISO/IEC 15948, 5.2), JPEG (ISO/IEC 10918-1, SOI), WebP (RIFF container), GLB
 * (glTF 2.0, "GLB file format"), PLY ("ply" as first line), binary STL (80 bytes, a count, 50 bytes a triangle).
 * @param bytes all of it, or its first `LOOKED_AT` bytes
 * @param size how many bytes there are in all
 */
export function fileKind(bytes: Uint8Array, size = bytes.length): FileKind {
  if (startsWith(bytes, [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]))
    return { kind: 'picture', type: 'image/png' };
  if (startsWith(bytes, [0xff, 0xd8, 0xff])) return { kind: 'picture', type: 'image/jpeg' };
  if (startsWith(bytes, [0x52, 0x49, 0x46, 0x46]) && startsWith(bytes, [0x57, 0x45, 0x42, 0x50], 8))
    return { kind: 'picture', type: 'image/webp' };
  if (startsWith(bytes, [0x67, 0x6c, 0x54, 0x46])) return { kind: 'mesh', format: 'glb' };
  if (bytes.length >= 84) {
    const triangles = bytes[80]! + bytes[81]! * 256 + bytes[82]! * 65536 + bytes[83]! * 16777216;
    if (triangles > 0 && size === 84 + triangles * 50) return { kind: 'mesh', format: 'stl' };
  }
  const sound = soundType(bytes);
  if (sound) return { kind: 'sound', type: sound };
  const video = videoType(bytes);
  if (video) return { kind: 'video', type: video };
  if (startsWith(bytes, [0x4d, 0x54, 0x68, 0x64, 0, 0, 0, 6])) return { kind: 'notes' };
  const text = opening(bytes);
  if (text.startsWith('ply\n') || text.startsWith('ply\r')) return { kind: 'mesh', format: 'ply' };
  if (/^\s*solid\b[^]*?\bfacet\b/.test(text)) return { kind: 'mesh', format: 'stl' };
  if (/^\s*\{/.test(text) && /"(asset|buffers|meshes|nodes|scenes|accessors)"/.test(text))
    return { kind: 'mesh', format: 'gltf' };
  if (/<svg[\s>]/i.test(text)) return { kind: 'svg' };
  if (!text.includes('\u0000') && /^[ \t]*v[ \t]+-?[\d.]+(e[-+]?\d+)?[ \t]+-?[\d.]/im.test(text))
    return { kind: 'mesh', format: 'obj' };
  return { kind: 'unknown' };
}

/** Turns UTF-8 bytes into text; core has no decoder of its own. */
export type Decode = (bytes: Uint8Array) => string;

/** Why a mesh file of so many bytes cannot be taken, in a sentence, or `null`. */
export const refuseMeshSize = (size: number): string | null =>
  size > MESH_BYTES
    ? `The file has ${Math.ceil(size / 1048576)} MB: meshes may have ${MESH_BYTES / 1048576} MB.`
    : null;

/**
 * Why a mesh file cannot be taken, in a sentence, or `null`. Looks at what can be told without building the mesh: sizes
 * of the parts of a GLB, buffers that are missing, extensions that are needed, cut-off binary files.
 */
export function refuseMesh(format: MeshFormat, bytes: Uint8Array, decode: Decode): string | null {
  const tooLarge = refuseMeshSize(bytes.length);
  if (tooLarge) return tooLarge;
  if (format === 'glb') {
    const parts = splitGlb(bytes);
    return typeof parts === 'string' ? parts : refuseGltf(decode(parts.json), parts.binary?.length ?? null);
  }
  if (format === 'gltf') return refuseGltf(decode(bytes), null);
  // Blanks of one line only: a class that also takes ends of lines tries every line from every line.
  if (format === 'obj' && !/^[ \t]*f[ \t]+-?\d/m.test(decode(bytes)))
    return 'The OBJ file has no faces: export it with its faces (lines that begin with "f").';
  if (format === 'ply' && !/end_header/.test(opening(bytes)))
    return 'The header of the PLY file has no end: the file is cut off.';
  return null;
}
