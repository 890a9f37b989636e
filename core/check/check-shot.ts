import { channelAt, ownerName, ownerOf, sortedKeys, splitAddress, type Owner, type Shot } from '../document';
import { channelName } from '../edit';
import { compile, Evaluator, explainFailure, type Plan, type PlannedLink } from '../evaluate';
import { addressesRead, readsClock } from '../formula';
import type { Problem } from './problem';

/** Frames looked at for links that fail only now and then. */
const FRAMES_LOOKED_AT = 240;

/** Everything worth telling about a shot before it is rendered; errors first. */
export function checkShot(shot: Shot, plan: Plan = compile(shot)): Problem[] {
  const problems = [...checkScene(shot), ...checkLinks(plan), ...checkKeys(shot), ...checkFrames(plan)];
  return problems.sort((a, b) => (a.severity === b.severity ? 0 : a.severity === 'error' ? -1 : 1));
}

function checkScene(shot: Shot): Problem[] {
  const problems: Problem[] = [];
  if (shot.setup.camera === null)
    problems.push({
      code: 'camera.none',
      severity: 'error',
      address: 'setup/camera',
      message: 'The shot has no camera: nothing can be rendered.',
    });
  const lit = Object.values(shot.parts).some(
    (part) => part.kind === 'sun' || part.kind === 'sky' || part.kind === 'point',
  );
  const glows = Object.values(shot.looks).some(
    (look) => 'glow' in look.values || 'glow' in look.tracks || 'glow' in look.links,
  );
  if (!lit && !glows)
    problems.push({
      code: 'light.none',
      severity: 'warning',
      address: 'setup',
      message: 'The shot has no light: the picture will be black.',
    });
  return problems;
}

/** Addresses whose value can differ from frame to frame, following links. */
export function movingAddresses(plan: Plan): Set<string> {
  const moving = new Set<string>();
  const owners = [
    ...Object.entries(plan.shot.parts),
    ...Object.entries(plan.shot.shapes),
    ...Object.entries(plan.shot.looks),
    ...Object.entries(plan.shot.dials),
  ];
  for (const [id, owner] of owners)
    for (const [path, track] of Object.entries(owner.tracks))
      if (Object.keys(track.keys).length > 1 && !owner.links[path]) moving.add(`${id}/${path}`);
  for (const link of plan.order) if (linkMoves(plan, link, moving)) moving.add(link.address);
  return moving;
}

function linkMoves(plan: Plan, link: PlannedLink, moving: ReadonlySet<string>): boolean {
  const { expression } = link;
  if (!expression) return false;
  const { owner, path } = splitAddress(link.address);
  const ownMoves = ownerOf(plan.shot, owner)?.tracks[path] !== undefined;
  return (
    readsClock(expression) || ownMoves || addressesRead(expression).some((address) => moving.has(address))
  );
}

function checkLinks(plan: Plan): Problem[] {
  const problems: Problem[] = [];
  const moving = movingAddresses(plan);
  for (const link of plan.links) {
    const name = channelName(plan.shot, link.address);
    if (link.error) {
      const { message, from, to } = link.error;
      problems.push({
        code: 'link.error',
        severity: 'error',
        address: link.address,
        message: `${name}: ${message}`,
        from,
        to,
      });
    } else if (!moving.has(link.address))
      problems.push({
        code: 'link.constant',
        severity: 'warning',
        address: link.address,
        message: `${name}: nothing that this link reads ever changes.`,
      });
  }
  return problems;
}

function eachTrack(shot: Shot, visit: (address: string, owner: Owner, path: string) => void): void {
  const ids = [shot.parts, shot.shapes, shot.looks, shot.dials].flatMap((table) => Object.keys(table));
  for (const id of ids) {
    const owner = ownerOf(shot, id)!;
    for (const path of Object.keys(owner.tracks)) visit(`${id}/${path}`, owner, path);
  }
}

function checkKeys(shot: Shot): Problem[] {
  const problems: Problem[] = [];
  const { first, last } = shot.setup;
  eachTrack(shot, (address, owner, path) => {
    const keys = sortedKeys(owner.tracks[path]!);
    const add = (code: Problem['code'], frame: number, words: string): void => {
      problems.push({
        code,
        severity: 'warning',
        address,
        frame,
        message: `${channelName(shot, address)}: ${words}`,
      });
    };
    const outside = keys.filter(({ key }) => key.frame < first || key.frame > last);
    if (outside[0])
      add(
        'keys.outside-range',
        outside[0].key.frame,
        `${outside.length} ${outside.length === 1 ? 'key lies' : 'keys lie'} outside the range ${first} to ${last}.`,
      );
    const double = keys.find(({ key }, i) => i > 0 && key.frame === keys[i - 1]!.key.frame);
    if (double)
      add(
        'keys.same-frame',
        double.key.frame,
        `two keys stand on frame ${double.key.frame}; the later one counts.`,
      );
    const between = keys.find(({ key }) => !Number.isInteger(key.frame));
    if (between && channelAt(shot, address)?.spec.kind === 'switch')
      add(
        'keys.between-frames',
        between.key.frame,
        `it switches between two frames, at ${between.key.frame}.`,
      );
  });
  return problems;
}

/** Looks at frames of the range for links that give no number and parts that are never shown. */
function checkFrames(plan: Plan): Problem[] {
  const problems: Problem[] = [];
  const { first, last } = plan.shot.setup;
  const evaluator = new Evaluator(plan);
  const step = Math.max(1, Math.ceil((last - first + 1) / FRAMES_LOOKED_AT));
  const told = new Set<string>();
  const shown = new Uint8Array(plan.nodes.length);
  for (let frame = first; frame <= last; frame += step) {
    evaluator.evaluate(frame);
    for (let i = 0; i < shown.length; i++) shown[i]! |= evaluator.shown[i]!;
    plan.order.forEach((link, i) => {
      if (evaluator.failed[i] !== 1 || told.has(link.address)) return;
      told.add(link.address);
      const why = explainFailure(evaluator, link.address);
      problems.push({
        code: 'link.not-a-number',
        severity: 'error',
        address: link.address,
        frame,
        from: why?.from,
        to: why?.to,
        message: `${channelName(plan.shot, link.address)}: ${why?.message ?? `no number at frame ${frame}.`}`,
      });
    });
  }
  plan.nodes.forEach((id, i) => {
    if (shown[i] === 0 && plan.shot.parts[id]?.kind === 'solid')
      problems.push({
        code: 'part.hidden',
        severity: 'warning',
        address: id,
        message: `${ownerName(plan.shot, id)} is hidden over the whole range.`,
      });
  });
  return problems;
}
