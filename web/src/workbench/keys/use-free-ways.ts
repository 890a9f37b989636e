import { useEffect, useState } from 'react';
import type { FreeWay, FreeWaysAsked } from '../../../../core/clearance';
import { fileMeshes } from '../clearance/file-meshes';
import { useSession } from '../session';
import type { FreeWaysAnswer, FreeWaysOrder } from './free-ways-worker';

/** How the search for free ways stands. */
export interface FreeWaysState {
  /** How far it has come; `null` when it is done or was not asked for. */
  readonly share: number | null;
  readonly ways: readonly FreeWay[] | null;
  readonly failed: string | null;
}

const NOTHING: FreeWaysState = { share: null, ways: null, failed: null };
/** A search begins when nothing has been changed for so long. */
const AFTER_MS = 300;

/** Finds where parts are free, beside the page; another question breaks off the one before. `null` asks for nothing. */
export function useFreeWays(asked: FreeWaysAsked | null): FreeWaysState {
  const session = useSession();
  const [state, setState] = useState(NOTHING);
  const what = asked && JSON.stringify(asked);
  useEffect(() => {
    if (what === null) {
      setState(NOTHING);
      return;
    }
    setState({ ...NOTHING, share: 0 });
    let worker: Worker | null = null;
    const timer = setTimeout(() => {
      const { shot, plan } = session.doc.now;
      worker = new Worker(new URL('./free-ways-worker.ts', import.meta.url), { type: 'module' });
      worker.onmessage = ({ data }: MessageEvent<FreeWaysAnswer>) => {
        if ('share' in data) setState({ ...NOTHING, share: data.share });
        else if ('failed' in data) setState({ ...NOTHING, failed: data.failed });
        else setState({ ...NOTHING, ways: data.ways });
      };
      worker.onerror = ({ message }) => setState({ ...NOTHING, failed: message || 'It has ended early.' });
      worker.postMessage({
        shot,
        loudness: plan.loudness,
        asked: JSON.parse(what) as FreeWaysAsked,
        meshes: fileMeshes(shot, session.assets).meshes,
      } satisfies FreeWaysOrder);
    }, AFTER_MS);
    return () => {
      clearTimeout(timer);
      worker?.terminate();
    };
  }, [session, what]);
  return state;
}
