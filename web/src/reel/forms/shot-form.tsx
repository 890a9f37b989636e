import { FRAME_LIMIT } from '../../../../core/document';
import { Link } from 'react-router';
import { changeItem, type ShotItem } from '../../../../core/reel';
import { Switch } from '../../ui/switch';
import { NumberBox } from '../../ui/number-box';
import { edit, strideOfItem, withRange } from '../reel-edits';
import { useReelSession, useReelShots } from '../reel-session';
import { Head, Length, Row } from './form-parts';

/** A shot of the reel: its in and out, its sound. */
export function ShotForm({ item }: { item: ShotItem }) {
  const session = useReelSession();
  const known = useReelShots()[item.shot];
  const stride = strideOfItem(session, item);
  const last = Math.round(item.first + item.frames * stride) - 1;
  const setup = known?.shot?.setup;
  const change = (more: Partial<ShotItem>, kind: string): void =>
    edit(session, (reel) => changeItem(reel, item, more), `${kind} ${item.id}`);
  return (
    <>
      <Head kind="shot" name={known?.name ?? item.name} />
      {known?.failed && (
        <p role="alert" className="px-2.5 pt-2 text-now">
          {known.failed} It is black in the reel; bring it back on the Projects page, or take it out.
        </p>
      )}
      <div className="py-1.5">
        <Row label="In">
          <NumberBox
            label="First frame of the shot"
            value={item.first}
            min={-FRAME_LIMIT}
            max={FRAME_LIMIT}
            onValue={(first) => change(withRange(session, item, first, Math.max(first, last)), 'in')}
          />
          <span className="text-ink-3">of its own frames</span>
        </Row>
        <Row label="Out">
          <NumberBox
            label="Last frame of the shot"
            value={last}
            min={item.first}
            max={FRAME_LIMIT}
            onValue={(next) => change(withRange(session, item, item.first, next), 'out')}
          />
          {setup && (
            <button
              type="button"
              className="btn h-[22px]"
              title={`Frames ${setup.first} to ${setup.last}`}
              onClick={() => change(withRange(session, item, setup.first, setup.last), '')}
            >
              All of it
            </button>
          )}
        </Row>
        <Row label="Length">
          <Length item={item} />
        </Row>
        <Row label="Its sound">
          <Switch
            label={item.silent ? 'silent' : 'heard'}
            on={!item.silent}
            onChange={(on) =>
              edit(session, (reel) => {
                const { silent: _silent, ...rest } = item;
                const next = on ? rest : { ...item, silent: true as const };
                return { ...reel, items: reel.items.map((each) => (each.id === item.id ? next : each)) };
              })
            }
          />
          <Link to={`/shots/${item.shot}`} className="ml-auto font-semibold text-teal hover:underline">
            Open the shot
          </Link>
        </Row>
      </div>
    </>
  );
}
