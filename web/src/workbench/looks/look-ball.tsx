import { useEffect, useState } from 'react';
import type { KeptLook } from '../../../../core/edit';
import { hexOfColour } from '../../../../core/math';
import { leftBlank } from '../view/draft';
import { balls } from './look-balls';

/** A look on a ball; its plain colour until that is drawn, or where the view is left blank, too. */
export function LookBall({ look, size, wait = false }: { look: KeptLook; size: number; wait?: boolean }) {
  const [address, setAddress] = useState<string | null>(null);
  const text = JSON.stringify(look);
  useEffect(() => {
    if (leftBlank()) return;
    let there = true;
    const ask = (): void => {
      balls.of(JSON.parse(text) as KeptLook).then(
        (found) => there && setAddress(found),
        () => undefined,
      );
    };
    // While a value is dragged it is another look with every picture.
    const timer = setTimeout(ask, wait ? 400 : 0);
    return () => {
      there = false;
      clearTimeout(timer);
    };
  }, [text, wait]);
  const colour = (look.values.colour ?? [0.5, 0.5, 0.5]) as readonly [number, number, number];
  return address ? (
    <img src={address} alt="" width={size} height={size} className="flex-none rounded" />
  ) : (
    <span
      className="flex-none rounded"
      style={{ width: size, height: size, background: hexOfColour(colour) }}
      aria-hidden="true"
    />
  );
}
