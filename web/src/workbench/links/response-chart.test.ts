import { expect, it } from 'vitest';
import { blankShot } from '../../../../core/document';
import { addPart, apply } from '../../../../core/edit';
import { plotted, responseOption, type ResponsePicture } from './response-chart';

const picture: ResponsePicture = {
  responses: [
    ['now', { x: [0, 90], y: [0.5, 1], slope: [0.01, 0] }],
    ['other formula', { x: [0, 90], y: [2, 3], slope: [0, 0] }],
  ],
  over: 'Crank rotation Z °',
  from: 0,
  to: 90,
  sweep: 1,
  value: { unit: 'mm', per: 1000 },
  speed: { unit: 'mm/°', per: 1000 },
  colours: { now: 'blue', 'other formula': 'gold' },
  text: { color: 'grey', fontFamily: 'some' },
};

it('draws a line for each formula and one for its speed, in the units that are shown', () => {
  const { series, xAxis, yAxis } = responseOption(picture);
  expect(series.map(({ name, data }) => [name, data])).toEqual([
    [
      'now',
      [
        [0, 500],
        [90, 1000],
      ],
    ],
    [
      'now, speed',
      [
        [0, 10],
        [90, 0],
      ],
    ],
    [
      'other formula',
      [
        [0, 2000],
        [90, 3000],
      ],
    ],
    [
      'other formula, speed',
      [
        [0, 0],
        [90, 0],
      ],
    ],
  ]);
  expect(series.map(({ lineStyle }) => lineStyle.color)).toEqual(['blue', 'blue', 'gold', 'gold']);
  expect([xAxis.min, xAxis.max, yAxis[0]!.name, yAxis[1]!.name]).toEqual([0, 90, 'mm', 'mm/°']);
});

it('plots lengths in the unit of the shot and angles in degrees', () => {
  for (const [unit, per] of [
    ['m', 1],
    ['cm', 100],
    ['mm', 1000],
    ['px', 100],
  ] as const) {
    let shot = blankShot({ unit });
    shot = apply(shot, addPart(shot, { kind: 'hub', name: 'Crank' }).change);
    const [id] = Object.keys(shot.parts).filter((part) => shot.parts[part]!.name === 'Crank');
    const length = plotted(shot, `${id}/location.x`);
    expect(length.unit).toBe(unit);
    expect(length.per).toBeCloseTo(per, 12);
    expect(plotted(shot, `${id}/rotation.z`)).toEqual({ unit: '°', per: 1 });
    expect(plotted(shot, `${id}/scale.x`)).toEqual({ unit: '', per: 1 });
  }
});
