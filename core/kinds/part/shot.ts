import type { PartDefinition } from '../definition';
import { OPACITY } from '../opacity-channel';

/** Another shot of the project, shown as it moves. It is offered by the shots that there are. */
export const shot: PartDefinition = {
  word: 'shot',
  channels: [OPACITY],
  role: 'shot',
  offer: null,
};
