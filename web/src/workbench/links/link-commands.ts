import { toast } from 'sonner';
import { channelAt, linkOf, splitAddress } from '../../../../core/document';
import { channelName, copyLink, setLink, type LinkCopyManner } from '../../../../core/edit';
import { formatFormula, NameTable, textOfLink } from '../../../../core/formula';
import { builderOf, recipeOf, rememberedRecipe } from '../../../../core/recipe';
import type { Session } from '../session';

/** The channel that is meant: the chosen one, else a linked or the first one of the chosen part. */
function channelMeant(session: Session): string | null {
  const { channel, chosen } = session.choice.now;
  const { shot } = session;
  if (channel !== null) return channel;
  const id = chosen.at(-1);
  const part = id === undefined ? undefined : shot.parts[id];
  if (!part) return null;
  const path = Object.keys(part.links)[0] ?? Object.keys(part.tracks)[0] ?? 'rotation.z';
  return channelAt(shot, `${id}/${path}`) ? `${id}/${path}` : `${id}/location.y`;
}

function withChannel(session: Session, open: 'why' | 'response'): void {
  const channel = channelMeant(session);
  if (channel === null) toast('Choose a value first: click its name in the values, or a lane.');
  else if (open === 'response' && channelAt(session.shot, channel)?.spec.kind === 'colour')
    toast('A colour is not plotted: its lane shows what it does. Plot one of the numbers that it reads.');
  else {
    session.choice.showChannel(channel);
    session.sheets.show(open);
  }
}

/** Writes the formula of the chosen channel with even spaces and without needless brackets; it gives the same. */
export function tidyFormula(session: Session): void {
  const channel = channelMeant(session);
  const link = channel === null ? null : linkOf(session.shot, channel);
  if (!link) return;
  const text = textOfLink(new NameTable(session.shot), link);
  const tidy = formatFormula(text);
  if (tidy === text) toast('The formula is tidy already.');
  else session.edit((now) => setLink(now, channel!, tidy));
}

/** Opens the answer to why the chosen channel stands still. */
export const askWhy = (session: Session): void => withChannel(session, 'why');

/** Opens the plot of the chosen channel. */
export const showResponse = (session: Session): void => withChannel(session, 'response');

/** Opens the motion report, with the chosen channel in it. */
export const showReport = (session: Session): void => session.sheets.show('report');

/** Opens the search for values by which a number becomes what is wanted. */
export const findValue = (session: Session): void => session.sheets.show('find');

/** Opens the recipes: one kind, the recipe that wrote the chosen channel's link, or all to choose from. */
export function openRecipe(session: Session, kind: string | null): void {
  const { shot } = session;
  const { channel } = session.choice.now;
  const known = kind === null && channel !== null ? recipeOf(shot, channel) : null;
  session.sheets.useRecipe(
    known
      ? { id: known.id, kind: known.recipe.kind, ...rememberedRecipe(known.recipe) }
      : { kind, roles: {}, settings: {} },
  );
}

/** Opens the recipe that built a part, with its numbers. */
export function editBuilt(session: Session, part: string): void {
  const made = builderOf(session.shot, part);
  if (!made) {
    toast('No recipe has built this part.');
    return;
  }
  session.sheets.footTab('links');
  session.sheets.useRecipe({ id: made.id, kind: made.recipe.kind, ...rememberedRecipe(made.recipe) });
}

/** Copies the link of the chosen channel, to be pasted onto other parts. */
export function copyChosenLink(session: Session): void {
  const { shot } = session;
  const { channel } = session.choice.now;
  if (channel === null || !linkOf(shot, channel)) {
    toast('Choose a linked value first.');
    return;
  }
  session.clipboard.copy({ kind: 'link', from: channel });
  toast(`The link of ${channelName(shot, channel)} is copied: choose parts and paste it.`);
}

/** Pastes the copied link onto the same channel of the chosen parts. */
export function pasteLink(session: Session, manner: LinkCopyManner): void {
  const { copied: clipboard } = session.clipboard.now;
  const { chosen } = session.choice.now;
  const { shot } = session;
  if (clipboard?.kind !== 'link') {
    toast('Copy a link first.');
    return;
  }
  const { path } = splitAddress(clipboard.from);
  const targets = chosen.map((id) => `${id}/${path}`).filter((address) => channelAt(shot, address));
  if (targets.length === 0) toast('Choose the parts that are to be linked in the same way.');
  else session.edit((now) => copyLink(now, clipboard.from, targets, manner));
}
