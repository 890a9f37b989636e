import type { PartDefinition } from '../definition';
import { OPACITY } from '../opacity-channel';

export const solid: PartDefinition = { word: 'solid', channels: [OPACITY], role: 'solid', offer: null };
