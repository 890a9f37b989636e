import type { Response } from 'express';

/**
 * Calls `then` once, when an answer has ended or nobody is there to take it; at once when that is so already. Node does
 * not tell an answer that waits for its turn on a line (RFC 9112, section 9.3.2) that the line has closed, so the line
 * itself is asked, too.
 * @returns a function that takes this back
 */
export function whenGone(response: Response, then: () => void): () => void {
  const { socket } = response.req;
  let waiting = true;
  const leave = (): void => {
    waiting = false;
    response.off('close', gone);
    socket.off('close', gone);
  };
  // The line and the answer may both tell within one event, so that taking the listeners away is not enough.
  const gone = (): void => {
    if (!waiting) return;
    leave();
    then();
  };
  response.on('close', gone);
  socket.on('close', gone);
  if (socket.destroyed || response.closed) gone();
  return leave;
}
