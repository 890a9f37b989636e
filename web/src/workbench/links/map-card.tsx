import { Handle, Position, type NodeProps, type Node } from '@xyflow/react';
import { Gauge } from 'lucide-react';
import { memo } from 'react';
import { channelAt, type Link, linkOf, partDefinition, type Shot } from '../../../../core/document';
import { channelLabel } from '../../../../core/edit';
import type { MapCard } from '../../../../core/evaluate';
import { phaseOf } from '../../../../core/recipe';
import { describeValue } from '../../shared/format';
import { PartGlyph } from '../fields/glyphs';
import { Ring, ringOf } from '../fields/ring';
import { choose } from '../actions/choosing';
import { valueNow } from '../actions/values';
import { useSession, useChoice, useKeying, useShot, useTime } from '../session';
import { PhaseGrip } from './phase-grip';
import { CARD_HEAD, CARD_ROW, CARD_WIDTH, cardHeight } from './map-layout';

export type CardNode = Node<{ card: MapCard; dim: boolean }, 'card'>;

const MEASURED = 'place';

/** Name of the handle at which a channel's wires end; wires of measured places end at the head. */
export const handleOf = (address: string | null): string => address ?? MEASURED;

/** A part, look or dial of the map, with the channels that are read or driven. */
export const MapCardNode = memo(function MapCardNode({ data }: NodeProps<CardNode>) {
  const { card, dim } = data;
  const session = useSession();
  const chosen = useChoice((state) =>
    card.part === null ? state.channel?.startsWith(`${card.id}/`) === true : state.chosen.includes(card.part),
  );
  const shot = useShot((state) => state.plan.shot);
  const kind = card.part === null ? null : shot.parts[card.part]?.kind;
  return (
    <div
      className={`overflow-hidden rounded-[7px] border bg-raised ${chosen ? 'border-teal outline-2 outline-teal' : 'border-line'} ${dim ? 'opacity-35' : ''}`}
      style={{ width: CARD_WIDTH, height: cardHeight(card.channels.length) }}
    >
      <Handle
        id={MEASURED}
        type="source"
        position={Position.Right}
        className="map-end"
        style={{ top: CARD_HEAD / 2 }}
        isConnectable={false}
      />
      <div
        className={`flex items-center gap-1.5 px-2 font-bold ${card.kind === 'dial' ? 'bg-brass-wash' : 'bg-head'}`}
        style={{ height: CARD_HEAD }}
      >
        {card.kind === 'dial' ? (
          <Gauge size={13} aria-hidden="true" />
        ) : (
          kind && !partDefinition(kind).solid && <PartGlyph kind={kind} size={13} />
        )}
        <span className="truncate" title={card.name}>
          {card.name}
        </span>
      </div>
      {card.channels.map((address) => (
        <ChannelLine
          key={address}
          address={address}
          choose={() => {
            if (card.part !== null) choose(session, [card.part]);
            session.choice.showChannel(address);
          }}
        />
      ))}
      {card.channels.length === 0 && (
        <div className="px-2 text-ink-3" style={{ height: CARD_ROW }}>
          its place is measured
        </div>
      )}
    </div>
  );
});

const phases = new WeakMap<Link, number | null>();

/** Phase of a channel's link, worked out once for each link. */
function phaseAt(shot: Shot, address: string): number | null {
  const link = linkOf(shot, address);
  if (!link) return null;
  if (!phases.has(link)) phases.set(link, phaseOf(shot, address));
  return phases.get(link)!;
}

function ChannelLine({ address, choose }: { address: string; choose(): void }) {
  const session = useSession();
  // A recipe that is tried may have parts that the shot has not.
  const shot = useShot((state) => state.plan.shot);
  const frame = useTime((state) => state.frame);
  const loose = useKeying((state) => state.loose);
  const current = useChoice((state) => state.channel === address);
  useShot((state) => state.tick);
  const spec = channelAt(shot, address)?.spec;
  if (!spec) return null;
  const failed =
    Boolean(session.doc.now.plan.linkOf.get(address)?.error) || session.evaluator.hasFailed(address);
  const degrees = phaseAt(shot, address);
  return (
    <div
      className={`group relative flex items-center ${current ? 'bg-teal-wash' : 'hover:bg-field'}`}
      style={{ height: CARD_ROW }}
    >
      <Handle id={address} type="target" position={Position.Left} className="map-end" isConnectable={false} />
      <button
        type="button"
        className={`nodrag flex h-full min-w-0 flex-1 items-center gap-1.5 px-2 text-left ${current ? 'font-semibold' : ''} ${failed ? 'text-now' : ''}`}
        onClick={choose}
      >
        <Ring state={ringOf(shot, address, frame, loose)} error={failed} size={12} />
        <span className="truncate">{channelLabel(spec)}</span>
      </button>
      {degrees !== null && <PhaseGrip address={address} degrees={degrees} />}
      <span className={`num flex-none px-2 ${failed ? 'text-now' : 'text-ink-2'}`}>
        {describeValue(spec, valueNow(session, address, spec), shot.setup.unit)}
      </span>
      <Handle
        id={address}
        type="source"
        position={Position.Right}
        className="map-end"
        isConnectable={false}
      />
    </div>
  );
}
