import { describe, expect, it } from 'vitest';
import { CRATE_OBJ, FLAG_PLY, FLAG_STL, glbOf, triangleGltf } from '../../core/testing/mesh-files';
import { gltfParts, readMeshFile } from './mesh-file';

const utf8 = (text: string): Uint8Array => new TextEncoder().encode(text);

describe('reading mesh files', () => {
  it('GLB: the mesh with its name, its points and normals made where there are none', async () => {
    const [mesh] = await readMeshFile('glb', glbOf(triangleGltf()));
    expect(mesh!.name).toBe('Drum');
    expect([...mesh!.geometry.getAttribute('position').array]).toEqual([0, 0, 0, 2, 0, 0, 0, 3, 0]);
    expect([...mesh!.geometry.getAttribute('normal').array]).toEqual([0, 0, 1, 0, 0, 1, 0, 0, 1]);
    expect(mesh!.geometry.getAttribute('uv').count).toBe(3);
  });
  it('GLB: pictures that are not to be had do not stand in the way', async () => {
    const description = {
      ...triangleGltf(),
      images: [{ uri: 'gone.png' }],
      textures: [{ source: 0 }],
      extensionsUsed: ['KHR_texture_transform'],
    };
    expect(await readMeshFile('glb', glbOf(description))).toHaveLength(1);
    expect(gltfParts('glb', glbOf(description)).json.images).toEqual([{ uri: 'gone.png' }]);
  });
  it('glTF: buffers written into the description are joined', async () => {
    const floats = Buffer.from(Float32Array.from([0, 0, 0, 2, 0, 0, 0, 3, 0]).buffer);
    const uri = (bytes: Uint8Array): string =>
      `data:application/octet-stream;base64,${Buffer.from(bytes).toString('base64')}`;
    const description = {
      ...triangleGltf(),
      bufferViews: [{ buffer: 1, byteLength: 36 }],
      buffers: [
        { byteLength: 3, uri: uri(Uint8Array.from([1, 2, 3])) },
        { byteLength: 36, uri: uri(floats) },
      ],
    };
    const [mesh] = await readMeshFile('gltf', utf8(JSON.stringify(description)));
    expect([...mesh!.geometry.getAttribute('position').array]).toEqual([0, 0, 0, 2, 0, 0, 0, 3, 0]);
  });
  it('OBJ: faces of four corners become two triangles', async () => {
    const [crate] = await readMeshFile('obj', utf8(CRATE_OBJ));
    expect(crate!.name).toBe('Crate');
    crate!.geometry.computeBoundingBox();
    expect(crate!.geometry.boundingBox!.min.toArray()).toEqual([-1, -1, -1]);
    expect(crate!.geometry.getAttribute('position').count).toBe(36);
  });
  it('STL and PLY', async () => {
    for (const [format, text] of [
      ['stl', FLAG_STL],
      ['ply', FLAG_PLY],
    ] as const) {
      const [flag] = await readMeshFile(format, utf8(text));
      expect(flag!.geometry.getAttribute('position').count).toBe(3);
      expect(flag!.geometry.getAttribute('normal').getZ(0)).toBeCloseTo(1, 6);
    }
  });
  it('refuses points that are no numbers', async () => {
    const text = FLAG_PLY.replace('1 0 0', 'nan 0 0');
    await expect(readMeshFile('ply', utf8(text))).rejects.toThrow('no number');
  });
});
