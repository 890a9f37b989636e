import type { TakingApart } from '../../../../core/edit';
import { NumberBox } from '../../ui/number-box';
import { Switch } from '../../ui/switch';
import { ColourControl } from '../fields/colour-control';

type Dress = Pick<TakingApart, 'opacity' | 'colour'>;

/** What parts shine in on their way unless another colour is chosen: the brass of callouts. */
const FIRST_COLOUR = [0.58, 0.32, 0.07] as const;
const FIRST_OPACITY = 0.25;

/** Whether parts fade and change colour while they travel. */
export function TakeApartDress({ opacity, colour, onChange }: Dress & { onChange(change: Dress): void }) {
  return (
    <>
      <Switch
        label="Fade to"
        title="They and what hangs below them are seen through while they are away"
        on={opacity !== null && opacity !== undefined}
        onChange={(on) => onChange({ opacity: on ? FIRST_OPACITY : null })}
      />
      {opacity !== null && opacity !== undefined && (
        <NumberBox
          label="Opacity on the way"
          value={opacity}
          min={0}
          max={1}
          digits={2}
          step={0.05}
          onValue={(value) => onChange({ opacity: value })}
        />
      )}
      <Switch
        label="Turn colour"
        title="Their looks take this colour while they are away; a look that others have, too, becomes their own"
        on={Boolean(colour)}
        onChange={(on) => onChange({ colour: on ? FIRST_COLOUR : null })}
      />
      {colour && (
        <span className="grid w-[150px] grid-cols-[44px_1fr_1fr] gap-1">
          <ColourControl
            name="Colour on the way"
            value={colour}
            mixed={false}
            onPreview={() => undefined}
            onValue={(value) => onChange({ colour: value })}
          />
        </span>
      )}
    </>
  );
}
