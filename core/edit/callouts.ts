import { shotSchema, type Callout, type Shot } from '../document';
import { Draft, type Change } from './change';
import { demand, demandPart } from './demand';

const calloutShape = shotSchema.shape.parts.valueType.shape.callout;

/** Lets a callout say something else. @throws EditRefused for words that are too long */
export function setCallout(shot: Shot, id: string, callout: Callout): Change {
  demandPart(shot, id, 'callout');
  demand(calloutShape, callout, 'A callout has at most 200 letters.');
  const draft = new Draft(shot);
  draft.set(['parts', id, 'callout'], callout);
  return draft.change(`Write "${callout.text.text.slice(0, 30)}"`);
}
