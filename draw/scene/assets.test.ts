import { BufferGeometry } from 'three';
import { describe, expect, it } from 'vitest';
import { CRATE_OBJ } from '../../core/testing/mesh-files';
import { Assets } from './assets';

const utf8 = (text: string): Uint8Array => new TextEncoder().encode(text);

describe('files of a shot', () => {
  it('a mesh is fetched and read once, however often it is asked for, and told when it comes', async () => {
    const asked: string[] = [];
    const assets = new Assets((hash) => {
      asked.push(hash);
      return Promise.resolve(utf8(CRATE_OBJ));
    });
    const come = new Promise<void>((resolve) => (assets.onArrival = resolve));
    expect(assets.mesh('a1', 'obj', 0)).toBeNull();
    expect(assets.mesh('a1', 'obj', 0)).toBeNull();
    await come;
    expect(assets.mesh('a1', 'obj', 0)!.getAttribute('position').count).toBe(36);
    expect(assets.mesh('a1', 'obj', 1)).toBeNull();
    expect(asked).toEqual(['a1']);
  });
  it('what was read on its way in is neither fetched nor read again', () => {
    const assets = new Assets((hash) => Promise.reject(new Error(`${hash} was asked for`)));
    const crate = new BufferGeometry();
    assets.takeMeshes('b2', [crate]);
    expect(assets.mesh('b2', 'glb', 0)).toBe(crate);
    // The first that was shown stays: others may be drawing it.
    assets.takeMeshes('b2', [new BufferGeometry()]);
    expect(assets.mesh('b2', 'glb', 0)).toBe(crate);
  });
  it('says why a file cannot be shown', async () => {
    const assets = new Assets(() => Promise.reject(new Error('nobody has it')));
    const come = new Promise<void>((resolve) => (assets.onArrival = resolve));
    assets.mesh('c3', 'stl', 0);
    await come;
    expect(assets.failures.get('c3')).toBe('nobody has it');
  });
});
