import { createServer, type Server } from 'node:http';
import type { Express } from 'express';

/** An HTTP server of an application; what is no HTTP at all is answered like every other refusal. */
export function httpServer(app: Express): Server {
  const server = createServer(app);
  server.on('clientError', (error: NodeJS.ErrnoException, socket) => {
    if (!socket.writable || error.code === 'ECONNRESET') {
      socket.destroy();
      return;
    }
    const [status, title] = error.code === 'HPE_HEADER_OVERFLOW' ? [431, 'Too Large'] : [400, 'Bad Request'];
    const body = JSON.stringify({
      type: 'about:blank',
      title: 'no-http',
      status,
      code: 'no-http',
      detail: 'This is no request that can be read.',
    });
    socket.end(
      `HTTP/1.1 ${status} ${title}\r\nContent-Type: application/problem+json\r\nContent-Length: ${Buffer.byteLength(body)}\r\nConnection: close\r\n\r\n${body}`,
    );
  });
  return server;
}
