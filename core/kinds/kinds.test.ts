import { readdirSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { shotSchema } from '../document';
import { buildMesh } from '../shape';
import {
  PART_KINDS,
  partChannels,
  partDefinition,
  ROUND,
  SHAPE_KINDS,
  shapeChannels,
  shapeDefinition,
} from './index';

const filesIn = (folder: string): string[] =>
  readdirSync(new URL(folder, import.meta.url)).map((name) => name.replace('.ts', ''));

const AXES = ['x', 'y', 'z'] as const;
const initialSizes =
  (kind: (typeof SHAPE_KINDS)[number]) =>
  (path: string): number =>
    shapeChannels(kind).find((spec) => spec.path === path)!.initial as number;

describe('kinds of parts', () => {
  it('are those that a file defines', () => {
    expect([...PART_KINDS].sort()).toEqual(filesIn('./part').sort());
  });
  it.each(PART_KINDS)('%s can be told, found and added', (kind) => {
    const { word, solid, offer } = partDefinition(kind);
    expect(word).not.toBe('');
    // A solid is offered by its shapes, a shot by those of the project.
    expect(offer === null).toBe(solid || kind === 'shot');
    if (offer) expect([offer.name, offer.hint, offer.words].every((text) => text.length > 2)).toBe(true);
    for (const path of Object.keys(offer?.values ?? {}))
      expect(partChannels(kind).map((spec) => spec.path)).toContain(path);
  });
  it.each(PART_KINDS)('%s has each channel once, and a sound document takes it', (kind) => {
    const paths = partChannels(kind).map((spec) => spec.path);
    expect(new Set(paths).size).toBe(paths.length);
    expect(shotSchema.shape.parts.valueType.shape.kind.safeParse(kind).success).toBe(true);
  });
  it('a lamp and a camera that begin to aim face the target with the side from which they shine and look', () => {
    // draw/scene/lights.ts and three's cameras: light and view go along -z.
    for (const kind of ['sun', 'spot', 'area', 'camera'] as const)
      expect(partDefinition(kind).faces, kind).toBe('-z');
    expect(partDefinition('hub').faces).toBe('z');
  });
  it('light or no light: what shines has a strength and a colour', () => {
    for (const kind of PART_KINDS) {
      const paths = partChannels(kind).map((spec) => spec.path);
      expect(partDefinition(kind).light, kind).toBe(paths.includes('strength') && paths.includes('light'));
    }
  });
});

describe('kinds of shapes', () => {
  it('are those that a file defines', () => {
    expect([...SHAPE_KINDS].sort()).toEqual(filesIn('./shape').sort());
  });
  it.each(SHAPE_KINDS)('%s is offered, unless it comes from a file', (kind) => {
    const { offer, needs, word } = shapeDefinition(kind);
    expect(word).not.toBe('');
    expect(offer === null).toBe(needs.includes('mesh'));
    expect(shotSchema.shape.shapes.valueType.shape.kind.safeParse(kind).success).toBe(true);
  });
  it.each(SHAPE_KINDS)('%s is built from its sizes alone and what it needs', (kind) => {
    const asked = new Set<string>();
    const size = initialSizes(kind);
    const outline = [{ letter: 0, outer: [0, 0, 1, 0, 1, 1, 0, 1], holes: [] }];
    buildMesh(
      {
        kind,
        profile: [
          [0.2, 0],
          [1, 1],
        ],
        outline,
        pulleys: [
          [0, 0, 0.3],
          [1, 0, 0.2],
        ],
      },
      (path) => {
        asked.add(path);
        return size(path);
      },
    );
    const known = shapeChannels(kind).map((spec) => spec.path);
    for (const path of asked) expect(known).toContain(path);
    // A size that nothing asks for could be keyed without anything being seen.
    if (!shapeDefinition(kind).needs.includes('mesh')) expect([...asked].sort()).toEqual([...known].sort());
  });
  it.each(SHAPE_KINDS)('%s looks alike a whole number of times in a turn', (kind) => {
    const { symmetry, roundAxis } = shapeDefinition(kind);
    for (const axis of AXES) {
      const times = symmetry(initialSizes(kind), axis);
      expect(Number.isInteger(times) && times >= ROUND).toBe(true);
    }
    if (roundAxis)
      expect(symmetry(initialSizes(kind), roundAxis) === ROUND || kind.match(/gear|sprocket/) !== null).toBe(
        true,
      );
  });
  // Plane geometry: a prism of n sides fits itself n times in a turn; a cube four times about each axis.
  it.each([
    ['cylinder', { sides: 6, sweep: 360, top: 1 }, 'y', 6],
    ['cylinder', { sides: 6, sweep: 90, top: 1 }, 'y', 1],
    ['gear', { teeth: 56 }, 'z', 56],
    ['box', { width: 1, height: 1, depth: 1 }, 'x', 4],
    ['box', { width: 1, height: 2, depth: 1 }, 'x', 2],
    ['box', { width: 1, height: 2, depth: 1 }, 'y', 4],
  ] as const)('%s of %o about %s: %d times', (kind, sizes, axis, times) => {
    const size = (path: string): number => (sizes as Record<string, number>)[path]!;
    expect(shapeDefinition(kind).symmetry(size, axis)).toBe(times);
  });
});
