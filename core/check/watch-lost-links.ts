import { channelAt, linkOf, trackOf } from '../document';
import { channelName } from '../edit';
import { RECIPES } from '../recipe';
import { tell, type Told, type WatchKind } from './watch';

/** Recipes one of whose links has gone while nothing else moves the channel. */
export const WATCH_LOST_LINKS: WatchKind = {
  name: 'lost links',
  subjects: ({ shot }) => Object.keys(shot.recipes),
  rests: ({ shot }, id) => shot.recipes[id]!.driven.map((address) => address.split('/')[0]!),
  start: (plan, subjects) => ({
    frame: () => undefined,
    finish: () => {
      const told: Told = new Map();
      const { shot } = plan;
      for (const id of subjects) {
        const recipe = shot.recipes[id]!;
        for (const address of recipe.driven) {
          // A channel that has been baked into keys, or whose part has gone, is no loss.
          if (!channelAt(shot, address) || linkOf(shot, address) || trackOf(shot, address)) continue;
          tell(told, id, {
            code: 'recipe.lost-link',
            severity: 'warning',
            address,
            message: `${channelName(shot, address)} has lost the link that the recipe "${RECIPES.get(recipe.kind)?.label ?? recipe.kind}" made: it no longer moves. Make the recipe again, or take it away.`,
          });
        }
      }
      return told;
    },
  }),
};
