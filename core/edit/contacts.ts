import type { Contact, Shot } from '../document';
import { Draft, type Change } from './change';
import { demandName } from './demand-name';
import { makeId } from './make-id';
import type { Added } from './parts';
import { EditRefused } from './values';

/** What is said of two parts that touch when nobody says more. */
export const MEANT = 'meant to touch';

/** Of two parts that are meant to touch, the words for that; `null` where nothing is said. */
export function contactBetween(shot: Shot, a: string, b: string): (Contact & { readonly id: string }) | null {
  for (const [id, contact] of Object.entries(shot.contacts))
    if ((contact.a === a && contact.b === b) || (contact.a === b && contact.b === a))
      return { id, ...contact };
  return null;
}

/**
 * Says that two parts, with all that hangs from them, are meant to touch.
 * @param why in a few words
 * @throws EditRefused for parts that are gone, words that are no name, or a pair of which that is said already
 */
export function addContact(
  shot: Shot,
  [a, b]: readonly [string, string],
  why: string = MEANT,
  random?: () => number,
): Added {
  const [one, other] = [shot.parts[a], shot.parts[b]];
  if (!one || !other) throw new EditRefused('One of these parts is no longer in the shot.');
  if (contactBetween(shot, a, b))
    throw new EditRefused(`${one.name} and ${other.name} are already said to be meant to touch.`);
  const draft = new Draft(shot);
  const id = makeId('con', random);
  draft.set(['contacts', id], { a, b, why: demandName(why) });
  return { id, change: draft.change(`Let ${one.name} and ${other.name} touch`) };
}

/** Says of many pairs at once that they are meant to touch; pairs of which that is said are left. */
export function addContacts(
  shot: Shot,
  pairs: readonly (readonly [string, string])[],
  why: string = MEANT,
): Change {
  const draft = new Draft(shot);
  let count = 0;
  for (const [a, b] of pairs) {
    if (!shot.parts[a] || !shot.parts[b] || contactBetween(draft.shot, a, b)) continue;
    draft.set(['contacts', makeId('con')], { a, b, why: demandName(why) });
    count++;
  }
  if (count === 0) throw new EditRefused('There is no pair of which this is not said already.');
  return draft.change(`Let ${count} ${count === 1 ? 'pair' : 'pairs'} touch`);
}

/** Says otherwise why two parts are meant to touch. @throws EditRefused for words that are no name */
export function changeContact(shot: Shot, id: string, why: string): Change {
  const contact = shot.contacts[id];
  if (!contact) throw new EditRefused('It is no longer said that these parts are meant to touch.');
  const draft = new Draft(shot);
  draft.set(['contacts', id, 'why'], demandName(why));
  return draft.change('Say why parts touch');
}

export function removeContact(shot: Shot, id: string): Change {
  const draft = new Draft(shot);
  const contact = shot.contacts[id];
  draft.set(['contacts', id], undefined);
  const names = contact ? [contact.a, contact.b].map((part) => shot.parts[part]?.name ?? '') : [];
  return draft.change(`Look at ${names.join(' and ')} again`);
}

/** After parts have gone from a draft: what was said of them goes, too. */
export function removeContactsOf(draft: Draft, gone: ReadonlySet<string>): void {
  for (const [id, { a, b }] of Object.entries(draft.shot.contacts))
    if (gone.has(a) || gone.has(b)) draft.set(['contacts', id], undefined);
}
