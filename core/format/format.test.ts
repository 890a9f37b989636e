import { describe, expect, it } from 'vitest';
import { CRATE_OBJ, FLAG_PLY, FLAG_STL, glbOf, triangleGltf } from '../testing/mesh-files';
import { fileKind, refuseMesh, splitGlb } from './index';

const utf8 = (text: string): Uint8Array => new TextEncoder().encode(text);
const decode = (bytes: Uint8Array): string => new TextDecoder().decode(bytes);
const refuse = (description: unknown): string | null => refuseMesh('glb', glbOf(description), decode);

describe('what a file is, told from its bytes', () => {
  it.each([
    [
      'PNG',
      Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0]),
      { kind: 'picture', type: 'image/png' },
    ],
    ['JPEG', Uint8Array.from([0xff, 0xd8, 0xff, 0xe0]), { kind: 'picture', type: 'image/jpeg' }],
    ['WebP', utf8('RIFF\u0001\u0001\u0001\u0001WEBPVP8 '), { kind: 'picture', type: 'image/webp' }],
    ['GLB', glbOf(triangleGltf()), { kind: 'mesh', format: 'glb' }],
    ['glTF', utf8(JSON.stringify(triangleGltf())), { kind: 'mesh', format: 'gltf' }],
    ['OBJ', utf8(CRATE_OBJ), { kind: 'mesh', format: 'obj' }],
    ['ASCII STL', utf8(FLAG_STL), { kind: 'mesh', format: 'stl' }],
    ['PLY', utf8(FLAG_PLY), { kind: 'mesh', format: 'ply' }],
    ['SVG', utf8('<?xml version="1.0"?><svg viewBox="0 0 1 1"/>'), { kind: 'svg' }],
    ['a text', utf8('Open from ten to six'), { kind: 'unknown' }],
    ['a web page', utf8('<!doctype html><title>Fair</title>'), { kind: 'unknown' }],
    ['nothing', new Uint8Array(), { kind: 'unknown' }],
  ])('%s', (_name, bytes, want) => expect(fileKind(bytes)).toEqual(want));

  it('a binary STL by its count of triangles, whatever its heading says', () => {
    const bytes = new Uint8Array(84 + 50);
    bytes.set(utf8('solid in name only'));
    bytes[80] = 1;
    expect(fileKind(bytes)).toEqual({ kind: 'mesh', format: 'stl' });
    expect(fileKind(bytes.subarray(0, 100))).toEqual({ kind: 'unknown' });
  });
});

describe('meshes that cannot be taken are refused with the place and the reason', () => {
  it('takes a sound one, and gives back its parts', () => {
    expect(refuse(triangleGltf())).toBeNull();
    const parts = splitGlb(glbOf(triangleGltf()));
    expect(typeof parts === 'string' ? parts : JSON.parse(decode(parts.json))).toEqual(triangleGltf());
  });
  it('a buffer that is missing', () => {
    expect(refuse({ ...triangleGltf(), buffers: [] })).toMatch(/Buffer 0 is missing/);
    expect(refuseMesh('gltf', utf8(JSON.stringify(triangleGltf())), decode)).toMatch(
      /Buffer 0 is missing: the file says it has 36 bytes and brings none/,
    );
    expect(refuse({ ...triangleGltf(), buffers: [{ byteLength: 36, uri: 'drum.bin' }] })).toMatch(
      /"drum.bin", lies in a file of its own: drop that file together/,
    );
  });
  it('a buffer that is too short, a view beyond it, an accessor without a view, a node without its mesh', () => {
    expect(refuse({ ...triangleGltf(), buffers: [{ byteLength: 99 }] })).toMatch(
      /too short: 99 bytes are wanted/,
    );
    expect(
      refuse({ ...triangleGltf(), bufferViews: [{ buffer: 0, byteOffset: 20, byteLength: 36 }] }),
    ).toMatch(/View 0 reads beyond the end/);
    expect(refuse({ ...triangleGltf(), accessors: [{ bufferView: 7 }] })).toMatch(/view 7, which is missing/);
    expect(refuse({ ...triangleGltf(), nodes: [{ mesh: 4 }] })).toMatch(/mesh 4, which is missing/);
    expect(refuse({ ...triangleGltf(), nodes: [{ children: [9] }] })).toMatch(/child 9, which is missing/);
  });
  it('other versions, needed extensions, no mesh at all', () => {
    expect(refuse({ ...triangleGltf(), asset: { version: '1.0' } })).toMatch(/glTF version 1.0/);
    expect(refuse({ ...triangleGltf(), extensionsRequired: ['KHR_draco_mesh_compression'] })).toMatch(
      /needs KHR_draco_mesh_compression/,
    );
    expect(refuse({ ...triangleGltf(), meshes: [], nodes: [] })).toBe('There is no mesh in this file.');
  });
  it('files that are cut off, at every length, without throwing', () => {
    const whole = glbOf(triangleGltf());
    for (let length = 0; length < whole.length; length++)
      expect(refuseMesh('glb', whole.subarray(0, length), decode)).toBeTruthy();
    expect(refuseMesh('ply', utf8(FLAG_PLY.slice(0, 60)), decode)).toMatch(/cut off/);
    expect(refuseMesh('obj', utf8('v 0 0 0\nv 1 0 0\n'), decode)).toMatch(/no faces/);
  });
});

describe('a mesh file made to do harm', () => {
  it('of blank lines is looked through once, not from every line', () => {
    const blank = utf8('v 0 0 0\n'.concat('\n'.repeat(2_000_000)));
    expect(refuseMesh('obj', blank, decode)).toMatch(/has no faces/);
    expect(refuseMesh('obj', utf8('v 0 0 0\n'.concat(' '.repeat(2_000_000))), decode)).toMatch(
      /has no faces/,
    );
  });

  it('is refused in a sentence whatever stands in any of its fields', () => {
    const sound = triangleGltf();
    const places = (json: unknown, path: string[] = []): string[][] =>
      typeof json === 'object' && json !== null
        ? [path, ...Object.entries(json).flatMap(([name, value]) => places(value, [...path, name]))]
        : [path];
    let refused = 0;
    for (const path of places(sound).filter((place) => place.length > 0))
      for (const odd of [null, 7, -1, 1e308, 'x', [], {}, [null], { length: 3 }, true]) {
        const json = structuredClone(sound);
        let at = json;
        for (const name of path.slice(0, -1)) at = at[name] as Record<string, unknown>;
        at[path.at(-1)!] = odd;
        const reason = refuse(json);
        if (reason !== null) refused++;
        expect(reason === null || /[.]$/.test(reason)).toBe(true);
      }
    expect(refused).toBeGreaterThan(100);
  });

  it('has nodes that hang below themselves, or below two others', () => {
    const node = { children: [0] };
    expect(refuse({ ...triangleGltf(), nodes: [node] })).toMatch(/Node 0 hangs below itself/);
    expect(refuse({ ...triangleGltf(), nodes: [{ mesh: 0 }, node, node] })).toMatch(
      /Node 0 is a child of nodes 1 and 2/,
    );
  });
});
