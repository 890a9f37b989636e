import '@xyflow/react/dist/base.css';
import { Controls, MarkerType, ReactFlow, ReactFlowProvider, type Edge } from '@xyflow/react';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { Shot } from '../../../../core/document';
import { channelName } from '../../../../core/edit';
import { chainOf, linkMap, type LinkMap, type MapCard } from '../../../../core/evaluate';
import { formulaDraft } from '../formula/formula-draft';
import { choose } from '../actions/choosing';
import { useEvening } from '../../shared/theme';
import { useSession, useChoice, useShot } from '../session';
import { handleOf, MapCardNode, type CardNode } from './map-card';
import { layOut, type Placed } from './map-layout';
import { useMapSight } from './map-sight';

const NODE_TYPES = { card: MapCardNode };

export type MapFocus = 'all' | 'up' | 'down';

/** What of a map is shown: the chain of one channel, or everything. */
export function focusedMap(map: LinkMap, focus: MapFocus, channel: string | null): LinkMap {
  if (focus === 'all' || channel === null) return map;
  const chain = chainOf(map, channel, focus);
  const wires = map.wires.filter(
    (wire) => chain.has(wire.to) && (focus === 'up' || (wire.from !== null && chain.has(wire.from))),
  );
  const ids = new Set(wires.flatMap((wire) => [wire.fromCard, wire.toCard]));
  const cards = map.cards
    .filter((card) => ids.has(card.id) || card.channels.includes(channel))
    .map((card) => ({ ...card, channels: card.channels.filter((address) => chain.has(address)) }));
  return { cards, wires };
}

/** Parts and dials with what they read from one another: drivers left, driven right. */
export function LinksMap(props: { focus: MapFocus; find: string }) {
  return (
    <ReactFlowProvider>
      <Map {...props} />
    </ReactFlowProvider>
  );
}

/** Cards of the map; those that are not meant by the words that are looked for are dim. */
function nodesOf(shown: LinkMap, places: ReadonlyMap<string, Placed> | undefined, words: string): CardNode[] {
  return shown.cards.map((card) => ({
    id: card.id,
    type: 'card',
    position: places?.get(card.id) ?? { x: 0, y: 0 },
    data: { card, dim: words !== '' && !card.name.toLowerCase().includes(words) },
    draggable: false,
    connectable: false,
    selectable: false,
    // Its lines are clicked, though the card itself is neither dragged nor selected.
    style: { pointerEvents: 'all' },
  }));
}

/** Wires of the map; those of `near`, channels that are chosen, are drawn strongly. */
function edgesOf(shown: LinkMap, near: ReadonlySet<string | null>, shot: Shot): Edge[] {
  return shown.wires.map((wire, i) => {
    const lit = near.has(wire.to) || (wire.from !== null && near.has(wire.from));
    const colour = wire.error ? 'var(--color-now)' : 'var(--color-link)';
    return {
      id: `${i} ${wire.from ?? wire.fromCard} ${wire.to}`,
      source: wire.fromCard,
      target: wire.toCard,
      sourceHandle: handleOf(wire.from),
      targetHandle: wire.to,
      data: { to: wire.to },
      ariaLabel: `${wire.from ? channelName(shot, wire.from) : 'a place'} drives ${channelName(shot, wire.to)}${wire.loop ? ', in a loop' : wire.error ? ', out of force' : ''}`,
      style: {
        stroke: colour,
        strokeWidth: lit ? 2.4 : 1.3,
        opacity: lit || near.size <= 1 ? 1 : 0.55,
        ...(wire.loop ? { strokeDasharray: '6 4' } : {}),
      },
      markerEnd: { type: MarkerType.ArrowClosed, color: colour, width: 14, height: 14 },
      ...(wire.loop ? { label: 'loop', labelStyle: { fill: 'var(--color-now)', fontWeight: 700 } } : {}),
    };
  });
}

function Map({ focus, find }: { focus: MapFocus; find: string }) {
  const session = useSession();
  const plan = useShot((state) => state.plan);
  const shot = plan.shot;
  const channel = useChoice((state) => state.channel);
  const chosen = useChoice((state) => state.chosen);
  const frame = useRef<HTMLDivElement>(null);
  const sight = useMapSight(frame);
  const evening = useEvening();
  // Links alone make the map: keys and values of a document may change without it.
  const whole = useMemo(() => linkMap(plan), [plan]);
  const shown = useMemo(() => focusedMap(whole, focus, channel), [whole, focus, channel]);
  const form = useMemo(
    () =>
      JSON.stringify([
        shown.cards.map((card) => [card.id, card.channels.length]),
        shown.wires.map((wire) => [wire.fromCard, wire.toCard]),
      ]),
    [shown],
  );
  const [places, setPlaces] = useState<{ form: string; at: ReadonlyMap<string, Placed> } | null>(null);
  const [failed, setFailed] = useState<string | null>(null);
  const asked = useRef('');
  useEffect(() => {
    asked.current = form;
    layOut(shown).then(
      (at) => {
        if (asked.current !== form) return;
        setPlaces({ form, at });
        setTimeout(() => void sight.showAll(at, shown.cards).then(() => goTo(chosenCard(), at)));
      },
      (error: unknown) => setFailed(error instanceof Error ? error.message : String(error)),
    );
    // The form tells all that places depend on.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, [form]);

  const words = find.toLowerCase().trim();
  const nodes = useMemo(() => nodesOf(shown, places?.at, words), [shown, places, words]);
  const near = useMemo(
    () =>
      new Set([
        channel,
        ...shown.cards
          .filter((card) => card.part && chosen.includes(card.part))
          .flatMap((card) => card.channels),
      ]),
    [shown, channel, chosen],
  );
  const edges = useMemo(() => edgesOf(shown, near, shot), [shown, near, shot]);

  const chosenCard = (): MapCard | undefined =>
    shown.cards.find((card) => card.part !== null && card.part === session.choice.now.chosen.at(-1));
  const goTo = (card: MapCard | undefined, all = places?.at): void => {
    if (card) sight.goTo(all?.get(card.id));
  };
  useEffect(() => {
    goTo(chosenCard());
    // Only another choice moves the map.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, [chosen]);
  useEffect(() => {
    if (words !== '') goTo(shown.cards.find((entry) => entry.name.toLowerCase().includes(words)));
    // Only other words, or a map laid out anew, move it.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, [words, places]);

  if (failed !== null)
    return (
      <p role="alert" className="p-4 text-now">
        The map cannot be laid out: {failed}
      </p>
    );
  if (whole.cards.length === 0)
    return (
      <p className="px-5 pt-12 leading-relaxed text-ink-2">
        Nothing is linked yet. Type a formula after = in any field, or begin with a recipe: gears, a crank, a
        cam, a rolling wheel.
      </p>
    );
  return (
    <ReactFlow
      ref={frame}
      onMoveStart={(by) => {
        if (by) sight.taken();
      }}
      nodes={places?.form === form ? nodes : []}
      edges={places?.form === form ? edges : []}
      nodeTypes={NODE_TYPES}
      onlyRenderVisibleElements
      minZoom={0.05}
      maxZoom={1.8}
      nodesFocusable={false}
      edgesFocusable={false}
      colorMode={evening ? 'dark' : 'light'}
      proOptions={{ hideAttribution: true }}
      onEdgeClick={(_, edge) => {
        const { to } = edge.data as { to: string };
        const card = shown.cards.find((entry) => entry.channels.includes(to));
        if (card?.part) choose(session, [card.part]);
        session.choice.showChannel(to);
        formulaDraft.focusBar();
      }}
    >
      <Controls
        showInteractive={false}
        position="bottom-right"
        onZoomIn={sight.taken}
        onZoomOut={sight.taken}
        onFitView={sight.taken}
      />
    </ReactFlow>
  );
}
