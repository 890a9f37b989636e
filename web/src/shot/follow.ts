import { api } from '../shared/api';
import type { ShotServer } from './outbox';

/** The server that keeps a shot. */
export const serverOf = (shotId: string): ShotServer => ({
  send: (base, changes) => api.sendChanges(shotId, base, changes),
  since: (revision) => api.changesSince(shotId, revision),
  read: () => api.shot(shotId),
});

/**
 * Hears of the revisions that a shot is brought to, by server-sent events; the latest is told at once whenever the
 * stream begins. A page that is not looked at does not listen: a browser keeps few connections to one server.
 * @returns a function that stops it
 */
export function followShot(shotId: string, tell: (revision: number) => void): () => void {
  let stream: EventSource | null = null;
  const listen = (): void => {
    if (document.hidden) {
      stream?.close();
      stream = null;
      return;
    }
    if (stream && stream.readyState !== EventSource.CLOSED) return;
    stream = new EventSource(`/api/shots/${shotId}/events`);
    stream.onmessage = ({ data }: MessageEvent<string>) => {
      tell((JSON.parse(data) as { revision: number }).revision);
    };
  };
  listen();
  document.addEventListener('visibilitychange', listen);
  // A stream that was refused is not opened again by the browser.
  const again = setInterval(listen, 10_000);
  return () => {
    clearInterval(again);
    document.removeEventListener('visibilitychange', listen);
    stream?.close();
  };
}
