import { splitAddress } from '../document';
import { channelName } from '../edit';
import { explainFailure } from '../evaluate';
import { tell, type Told, type WatchKind } from './watch';

/** Links that give no number at some frame; what pins give is told linkage by linkage. */
export const WATCH_NUMBERS: WatchKind = {
  name: 'numbers',
  subjects: (plan) =>
    plan.order.filter(({ expression }) => expression?.type !== 'pinned').map((link) => link.address),
  rests: (_plan, address) => [splitAddress(address).owner],
  start: (plan, subjects) => {
    const told: Told = new Map();
    const asked = new Set(subjects);
    const watched = plan.order.flatMap((link, i) => (asked.has(link.address) ? [{ link, i }] : []));
    return {
      frame: (evaluator, frame) => {
        for (const { link, i } of watched) {
          if (evaluator.failed[i] !== 1 || told.has(link.address)) continue;
          const why = explainFailure(evaluator, link.address);
          tell(told, link.address, {
            code: 'link.not-a-number',
            severity: 'error',
            address: link.address,
            frame,
            from: why?.from,
            to: why?.to,
            message: `${channelName(plan.shot, link.address)}: ${why?.message ?? `no number at frame ${frame}.`}`,
          });
        }
      },
      finish: () => told,
    };
  },
};
