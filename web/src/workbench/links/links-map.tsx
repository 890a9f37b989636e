import '@xyflow/react/dist/base.css';
import { Controls, MarkerType, ReactFlow, ReactFlowProvider, useReactFlow, type Edge } from '@xyflow/react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { channelName } from '../../../../core/edit';
import { chainOf, linkMap, type LinkMap, type MapCard } from '../../../../core/evaluate';
import { useFormulaDraft } from '../formula/formula-draft';
import { choose } from '../actions/choosing';
import { useEvening } from '../../shared/theme';
import { useSession, useChoice, useShot } from '../session';
import { handleOf, MapCardNode, type CardNode } from './map-card';
import { CARD_WIDTH, cardHeight, layOut, type Placed } from './map-layout';

const NODE_TYPES = { card: MapCardNode };
/** Smallest scale at which cards can still be read. */
const LEGIBLE = 0.72;
/** Height of the bar over the map, pixels. */
const BAR = 36;

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

function Map({ focus, find }: { focus: MapFocus; find: string }) {
  const session = useSession();
  const plan = useShot((state) => state.plan);
  const shot = plan.shot;
  const channel = useChoice((state) => state.channel);
  const chosen = useChoice((state) => state.chosen);
  const flow = useReactFlow();
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
        setTimeout(() => void showWell(at).then(() => goTo(chosenCard(), at)));
      },
      (error: unknown) => setFailed(error instanceof Error ? error.message : String(error)),
    );
    // The form tells all that places depend on.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [form]);

  /** All of it where that can still be read, else its beginning. */
  const showWell = async (at: ReadonlyMap<string, Placed>): Promise<void> => {
    const element = document.querySelector<HTMLElement>('[data-testid="links-map"]');
    if (!element || at.size === 0) return;
    const [wide, tall] = [element.clientWidth, element.clientHeight - BAR];
    const right = Math.max(...[...at.values()].map(({ x }) => x)) + CARD_WIDTH;
    const bottom = Math.max(
      ...shown.cards.map((card) => (at.get(card.id)?.y ?? 0) + cardHeight(card.channels.length)),
    );
    const zoom = Math.max(LEGIBLE, Math.min(1, (wide - 24) / right, (tall - 12) / bottom));
    await flow.setViewport({
      x: Math.max(12, (wide - right * zoom) / 2),
      y: BAR + Math.max(2, (tall - bottom * zoom) / 2),
      zoom,
    });
  };

  const words = find.toLowerCase().trim();
  const nodes = useMemo(
    (): CardNode[] =>
      shown.cards.map((card) => ({
        id: card.id,
        type: 'card',
        position: places?.at.get(card.id) ?? { x: 0, y: 0 },
        data: { card, dim: words !== '' && !card.name.toLowerCase().includes(words) },
        draggable: false,
        connectable: false,
        selectable: false,
        // Its lines are clicked, though the card itself is neither dragged nor selected.
        style: { pointerEvents: 'all' },
      })),
    [shown, places, words],
  );
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
  const edges = useMemo(
    (): Edge[] =>
      shown.wires.map((wire, i) => {
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
      }),
    [shown, near, shot],
  );

  const chosenCard = (): MapCard | undefined =>
    shown.cards.find((card) => card.part !== null && card.part === session.choice.now.chosen.at(-1));
  /** Moves the map to a card that lies out of sight. */
  const goTo = (card: MapCard | undefined, all = places?.at): void => {
    const at = card && all?.get(card.id);
    const { x, y, zoom } = flow.getViewport();
    const element = document.querySelector<HTMLElement>('[data-testid="links-map"]');
    if (!at || !element) return;
    const [left, top] = [at.x * zoom + x, at.y * zoom + y];
    if (left < 0 || top < 0 || left > element.clientWidth - 120 || top > element.clientHeight - 40)
      void flow.setCenter(at.x + CARD_WIDTH / 2, at.y + 40, { zoom, duration: 200 });
  };
  useEffect(() => {
    goTo(chosenCard());
    // Only another choice moves the map.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [chosen]);
  useEffect(() => {
    if (words !== '') goTo(shown.cards.find((entry) => entry.name.toLowerCase().includes(words)));
    // Only other words, or a map laid out anew, move it.
    // eslint-disable-next-line react-hooks/exhaustive-deps
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
        useFormulaDraft.getState().focusBar();
      }}
    >
      <Controls showInteractive={false} position="bottom-right" />
    </ReactFlow>
  );
}
