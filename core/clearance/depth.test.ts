import { Matrix4 } from 'three';
import { describe, expect, it } from 'vitest';
import { apply, setLink } from '../edit';
import { compile } from '../evaluate';
import { buildParts } from '../recipe';
import { emptyShot } from '../testing/random-shot';
import { Bodies, relativePose } from './bodies';
import { clearance } from './clearance';
import { depthOf } from './depth';
import type { Shot } from '../document';

/** A cam of base radius 40 mm that lifts a roller of 10 mm by 25 mm in a quarter turn; it turns a degree in a frame. */
function camShot(pushed: number): Shot {
  let shot: Shot = { ...emptyShot(), setup: { ...emptyShot().setup, first: 0, last: 90 } };
  const settings = {
    law: 'cycloidal',
    lift: 0.025,
    rise: 90,
    dwell: 90,
    fall: 90,
    phase: 0,
    foot: 'roller',
    base: 0.04,
    roller: 0.01,
  };
  shot = apply(shot, buildParts(shot, 'cam', settings).change);
  const id = (name: string): string =>
    Object.keys(shot.parts).find((part) => shot.parts[part]!.name === name)!;
  const rest = shot.parts[id('Follower')]!.values['location.y'] as number;
  shot = apply(shot, setLink(shot, `${id('Cam')}/rotation.z`, 'frame * 1deg'));
  const lift = `cam(cycloidal, frame * 1deg, 25mm, 90deg, 90deg, 90deg)`;
  return apply(shot, setLink(shot, `${id('Follower')}/location.y`, `${rest} + ${lift} - ${pushed}`));
}

const called = (shot: Shot, name: string): string =>
  Object.keys(shot.parts).find((part) => shot.parts[part]!.name === name)!;

// Depth of a roller that is pushed towards its cam: its radius less the way from its middle to the edge, by two minimisations
// apart from this program.
describe('a roller pushed into its cam', () => {
  it.each([
    [0, 0.5, 0.5],
    [30, 0.5, 0.4584036711],
    [30, 1, 0.9166038764],
    [45, 1, 0.8892997221],
    [45, 2, 1.774944881],
    [60, 1, 0.9453314586],
    [90, 1, 1],
  ])('at %i degrees by %f mm', (angle, pushed, depth) => {
    const shot = camShot(pushed / 1000);
    const bodies = new Bodies(compile(shot));
    const now = bodies.at(angle * 64);
    const numberOf = (name: string): number =>
      bodies.list.findIndex(({ part }) => part === called(shot, name));
    const [a, b] = [numberOf('Cam'), numberOf('Roller')];
    const found = depthOf(now.solids[a]!, now.solids[b]!, relativePose(new Matrix4(), now, a, b));
    // Facets of the roller and of the edge lie up to 0.04 mm deeper than what they stand for; depth is told to 0.04 mm.
    expect(Math.abs(found * 1000 - depth)).toBeLessThan(0.1);
  });

  it('is looked at by the check, but not once a recipe lets them work on one another', () => {
    const shot = camShot(0.001);
    const [cam, follower] = [called(shot, 'Cam'), called(shot, 'Follower')];
    const asked = { from: 0, to: 4, parts: [cam], watched: [] };
    const pairs = (of: Shot): string[] =>
      clearance(compile(of), asked).findings.map(({ a, b }) =>
        [a, b].map(({ part }) => of.parts[part]!.name).join(' and '),
      );
    expect(pairs(shot)).toContain('Cam and Roller');
    const made: Shot = {
      ...shot,
      recipes: {
        rcp_a: {
          kind: 'cam',
          parts: { driver: cam, follower },
          numbers: {},
          driven: [`${follower}/location.y`],
        },
      },
    };
    expect(pairs(made)).toEqual([]);
  });
});
