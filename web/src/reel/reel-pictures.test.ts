import { describe, expect, it } from 'vitest';
import { compile, type Plan } from '../../../core/evaluate';
import { dissolve, reelOf, SHOT_A, SHOT_B, shotItem, titleItem } from '../../../core/testing/reels';
import { emptyShot } from '../../../core/testing/random-shot';
import { ReelPictures } from './reel-pictures';
import type { ReelAnswer, ReelOrder, ReelPort } from './scene-order';

/** A worker that answers when it is told to. */
function stage(plans: Record<string, Plan>) {
  const orders: ReelOrder[] = [];
  const closed: string[] = [];
  const port: ReelPort = {
    onmessage: null,
    postMessage: (order) => orders.push(order),
    terminate: () => undefined,
  };
  const pictures = new ReelPictures(
    (shot) => plans[shot] ?? null,
    () => port,
  );
  const asked = (): string[] =>
    orders.flatMap((order) => ('draw' in order ? [`${order.draw.slice(-1)}${order.frame}`] : []));
  const answer = (more?: ReelAnswer): void => {
    const last = orders.findLast((order) => 'draw' in order) as { draw: string; frame: number };
    const name = `${last.draw} ${last.frame}`;
    const picture = { width: 480, height: 270, close: () => closed.push(name) } as unknown as ImageBitmap;
    port.onmessage!({ data: more ?? { picture, of: last.draw, frame: last.frame } });
  };
  return { pictures, orders, closed, asked, answer };
}

const plan = (): Plan => compile(emptyShot(), {});
const told = (): Promise<void> => Promise.resolve();

describe('pictures of a reel', () => {
  it('are drawn one after another from the playhead on, those that are seen twice once', async () => {
    const { pictures, asked, answer } = stage({ [SHOT_A]: plan(), [SHOT_B]: plan() });
    pictures.setReel(
      reelOf(shotItem(3), titleItem(2, { id: 'itm_t' }), shotItem(2, { shot: SHOT_B, join: dissolve(1) })),
    );
    pictures.at(3);
    for (let i = 0; i < 12; i++) answer();
    await told();
    // Frame 1 was on its way before the playhead was moved; the title is one picture; the join has both.
    expect(asked()).toEqual(['a1', 'a3', 't0', 'b1', 'b2', 'a2']);
    expect(pictures.store.getState().drawn).toEqual(Array(7).fill(true));
    const seen = pictures.seen(6)!;
    expect(seen.whole && seen.below !== null && seen.picture.join!.share).toBe(0.5);
    expect(pictures.seen(8)).toBeNull();
  });

  it('of a shot that changes are let go, also what is on its way', () => {
    const plans = { [SHOT_A]: plan() };
    const { pictures, orders, closed, asked, answer } = stage(plans);
    pictures.setReel(reelOf(shotItem(2)));
    answer();
    plans[SHOT_A] = plan();
    pictures.look();
    expect(closed).toEqual([`${SHOT_A} 1`]);
    // What was on its way is of the shot as it was: it is not taken, and asked for anew.
    answer();
    expect(closed).toEqual([`${SHOT_A} 1`, `${SHOT_A} 2`]);
    answer();
    answer();
    expect(asked()).toEqual(['a1', 'a2', 'a1', 'a2']);
    expect(orders.filter((order) => 'scene' in order)).toHaveLength(2);
  });

  it('wait for a shot that is not there yet, and say why one cannot be drawn', async () => {
    const plans: Record<string, Plan> = {};
    const { pictures, asked, answer } = stage(plans);
    pictures.setReel(reelOf(shotItem(1)));
    expect(asked()).toEqual([]);
    plans[SHOT_A] = plan();
    pictures.look();
    expect(asked()).toEqual(['a1']);
    answer({ failed: 'A picture is gone.', of: SHOT_A, frame: 1 });
    await told();
    expect([...pictures.store.getState().failed.values()]).toEqual(['A picture is gone.']);
    expect(asked()).toEqual(['a1']);
  });

  it('of another size are drawn anew; of a title, when its words change', () => {
    const { pictures, closed, answer, asked } = stage({});
    const reel = reelOf(titleItem(2, { id: 'itm_t' }));
    pictures.setReel(reel);
    answer();
    pictures.setReel({ ...reel, items: [{ ...reel.items[0]!, frames: 9 }] });
    expect(closed).toEqual([]);
    pictures.setReel({ ...reel, height: 1080 });
    answer();
    pictures.setReel({ ...reel, height: 1080, items: [titleItem(2, { id: 'itm_t', size: 0.3 })] });
    expect(closed).toHaveLength(2);
    expect(asked()).toEqual(['t0', 't0', 't0']);
  });
});
