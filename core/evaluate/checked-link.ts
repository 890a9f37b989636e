import { channelsOf, splitAddress, type ChannelSpec, type Link, type Shot } from '../document';
import { checkLink, pinnedPlaces, type CheckedLink, type NameTable } from '../formula';
import { addressesOf } from './reads';

/** An answer of the formula checker. */
interface Remembered {
  readonly address: string;
  readonly checked: CheckedLink & { ok: true };
  /** The shot for which it was given, until somebody asks what it rests on: most answers are never asked for again. */
  given: Shot | null;
  rests: Rests | null;
}

/** All that an answer rests on. */
interface Rests {
  readonly setup: Shot['setup'];
  /** Tables of channels of all owners that take part. */
  readonly tables: readonly (readonly [owner: string, table: readonly ChannelSpec[]])[];
  /** Shapes and looks of the parts that are named: what is read through a part's name lies on them. */
  readonly forms: readonly (readonly [part: string, shape: string | null, look: string | null])[];
}

// By link: links never change in place.
const remembered = new WeakMap<Link, Remembered>();

/** As `checkLink`, but a sound link is looked at again only when something that the answer rests on has changed. */
export function checkRemembering(names: NameTable, address: string, link: Link): CheckedLink {
  const { shot } = names;
  const known = remembered.get(link);
  if (known && known.address === address && holds(shot, known, names, link)) return known.checked;
  const checked = checkLink(names, address, link);
  if (checked.ok) remembered.set(link, { address, checked, given: shot, rests: null });
  return checked;
}

function restsOf(known: Remembered, link: Link): Rests {
  const { given, address, checked } = known;
  if (known.rests || !given) return known.rests!;
  const owners = new Set(
    [...addressesOf(checked.expression), address].map((other) => splitAddress(other).owner),
  );
  const named = [splitAddress(address).owner, ...Object.values(link.refs)];
  known.given = null;
  return (known.rests = {
    setup: given.setup,
    tables: [...owners].map((id) => [id, channelsOf(given, id)] as const),
    forms: named.flatMap((id) => {
      const part = given.parts[id];
      return part ? [[id, part.shape, part.look] as const] : [];
    }),
  });
}

function holds(shot: Shot, known: Remembered, names: NameTable, link: Link): boolean {
  if (known.given === shot) return true;
  const rests = restsOf(known, link);
  if (rests.setup !== shot.setup) return false;
  if (known.checked.expression.type === 'pinned') {
    const place = pinnedPlaces(shot).get(splitAddress(known.address).owner);
    if (!place?.ok || place.linkage !== known.checked.expression.linkage) return false;
  }
  for (const [id, table] of rests.tables) if (channelsOf(shot, id) !== table) return false;
  for (const [id, shape, look] of rests.forms) {
    const part = shot.parts[id];
    if (part?.shape !== shape || part.look !== look) return false;
  }
  for (const name in link.refs) if (names.nameOf(link.refs[name]!) === null) return false;
  return true;
}
