import { createHash, randomBytes } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { fileURLToPath } from 'node:url';
import { chromium, type Browser, type CDPSession } from 'playwright-core';
import type { Shot } from '../core/document';
import type { LoudnessTables } from '../core/evaluate';
import { CHROMIUM } from './chromium';
import { LastingError } from './lasting-error';
import { pngOf, type RawFrame } from './raw-frame';
import { inSandbox, whyNoBrowser } from './sandbox';

/** Flags that keep Chromium quiet and draw with Mesa where there is no graphics card. */
const FLAGS = [
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--ignore-gpu-blocklist',
  '--js-flags=--expose-gc',
  '--host-resolver-rules=MAP * ~NOTFOUND , EXCLUDE 127.0.0.1 , EXCLUDE localhost',
];
/** Tried in this order; the second is Chromium's own software drawing. */
const DRAWING = [['--use-angle=gl-egl'], ['--use-angle=swiftshader', '--enable-unsafe-swiftshader']];
const DRAW_PAGE = process.env.WHIRL_DRAW_PAGE ?? fileURLToPath(new URL('./draw-page.js', import.meta.url));
/** Larger pictures are drawn in pieces: for machines with little memory. No card draws more at once than this. */
const SIDE = Number(process.env.WHIRL_PIECE_SIDE ?? 65_536);
/**
 * A browser started while the computer is busy may come up without its drawing process; another one then has it. How often
 * each way is tried, with longer and longer pauses.
 */
const STARTS = [5, 3];
const START_WAIT_MS = 1500;
const READY_TRIES = 200;
const READY_WAIT_MS = 50;
/** A page that has not answered for so long is taken for dead. A picture takes seconds even where it is large. */
const ANSWER_MS = 90_000;
/** What each further picture of a frame that is built up from several may take, for each million of its pixels. */
const SAMPLE_MS = 8_000;

export interface PictureSize {
  readonly width: number;
  readonly height: number;
  readonly alpha: boolean;
  /** Round shapes as fine as they can be, whatever their size in the picture. */
  readonly finest?: boolean;
  /** Pictures that a frame is built up from; missing or `null`, as many as the shot says. */
  readonly samples?: number | null;
  /** `false` leaves out what lens and film do to the picture. */
  readonly effects?: boolean;
  /** 16 bits a colour. */
  readonly deep?: boolean;
  /** Most pixels along a side that are drawn at once; missing, as set for this machine. The card may allow fewer. */
  readonly side?: number;
}

/** Bytes of a picture as numbers. */
const bytesOf = ({ width, height, deep }: PictureSize): number => width * height * (deep ? 8 : 4);

/** A shot that is shown in another one, with how loud its sounds are. */
export interface InnerShot {
  readonly id: string;
  readonly shot: Shot;
  readonly loudness: LoudnessTables;
}

/** Tables of loudness as text: their numbers as they lie in memory, in base 64. */
const loudnessText = (tables: LoudnessTables): Record<string, unknown> =>
  Object.fromEntries(
    Object.entries(tables).map(([id, { power, ...rest }]) => [
      id,
      {
        ...rest,
        power: Buffer.from(power.buffer, power.byteOffset, power.byteLength).toString('base64'),
      },
    ]),
  );

/**
 * A headless browser that draws frames of shots. The page runs in a context that the automation is not attached to,
 * since an attached page copies every upload through its debugging channel, ten times slower.
 */
export class DrawingBrowser {
  private shot: Shot | null = null;
  private loudness: LoudnessTables = {};
  private inner: readonly InnerShot[] = [];
  /** Drawings that are on their way, by their numbers: where their pictures go. */
  private readonly awaited = new Map<number, (pixels: Buffer) => void>();
  private size: PictureSize = { width: 0, height: 0, alpha: false };
  /** How long the page may take for a frame. */
  private frameLimit = ANSWER_MS;
  /** Why the files of the shot cannot all be had. */
  private missing: string | null = null;
  private calls = 0;
  private drawings = 0;
  private readonly waiting = new Map<
    number,
    { resolve: (value: unknown) => void; reject: (error: Error) => void }
  >();
  /** Name of the drawing library in use. */
  library = '';
  /** Hash of the program that draws: another one may draw other pixels. */
  program = '';
  /** It draws no more. */
  ended = false;

  private constructor(
    private readonly server: Server,
    private readonly browser: Browser,
    private readonly session: CDPSession,
    private readonly target: string,
    /** Address of the drawing page, its secret included. */
    readonly url: string,
  ) {
    session.on('Target.receivedMessageFromTarget', ({ message }) =>
      this.answered(JSON.parse(message) as Answer),
    );
    session.on('Target.targetCrashed', () => this.failAll(new Error('The drawing page has crashed.')));
    browser.on('disconnected', () => {
      this.ended = true;
      this.failAll(new Error('The drawing browser has ended.'));
    });
  }

  /**
   * @param readAsset gives the bytes of a shot's pictures and meshes
   * @param like name of the library that it has to draw with; `null` for the first that can be had
   * @param starts how often each way of drawing is tried, the graphics library of the computer first
   * @throws Error when Chromium is missing or cannot draw at all, or not with that library
   */
  static async open(
    readAsset: (hash: string, shot: Shot) => Promise<Uint8Array>,
    like: string | null = null,
    starts: readonly number[] = STARTS,
  ): Promise<DrawingBrowser> {
    const page = await readFile(DRAW_PAGE);
    let drawer: DrawingBrowser | null = null;
    // The page's address holds a secret: nobody else on this computer can take a shot from it, or put a frame in.
    const secret = randomBytes(24).toString('base64url');
    const server = createServer((request, response) => {
      const { port } = server.address() as AddressInfo;
      const own = `127.0.0.1:${port}`;
      const url = new URL(request.url ?? '/', `http://${own}`);
      const { host, origin } = request.headers;
      const path = url.pathname.startsWith(`/${secret}/`) ? url.pathname.slice(secret.length + 1) : null;
      if (path === null || host !== own || (origin !== undefined && origin !== `http://${own}`)) {
        response.writeHead(403).end();
        return;
      }
      if (path === '/draw-page.js') response.setHeader('Content-Type', 'text/javascript').end(page);
      else if (path === '/shot')
        response.setHeader('Content-Type', 'application/json').end(
          JSON.stringify({
            shot: drawer?.shot ?? null,
            loudness: loudnessText(drawer?.loudness ?? {}),
            inner: (drawer?.inner ?? []).map((entry) => ({
              ...entry,
              loudness: loudnessText(entry.loudness),
            })),
          }),
        );
      else if (path === '/asset' && drawer?.shot) {
        const asking = drawer;
        readAsset(url.searchParams.get('hash') ?? '', drawer.shot).then(
          (bytes) => response.setHeader('Content-Type', 'application/octet-stream').end(bytes),
          (error: unknown) => {
            if (error instanceof LastingError) asking.missing = error.message;
            response.writeHead(404).end(error instanceof Error ? error.message : String(error));
          },
        );
      } else if (path === '/frame' && request.method === 'POST') {
        const take = drawer?.awaited.get(Number(url.searchParams.get('drawing')));
        if (!drawer || !take) {
          response.writeHead(409).end('This drawing is not awaited.');
          return;
        }
        const pixels = Buffer.alloc(bytesOf(drawer.size));
        let size = 0;
        request.on('data', (chunk: Buffer) => {
          if (size + chunk.length > pixels.length) request.destroy();
          else chunk.copy(pixels, size);
          size += chunk.length;
        });
        request.on('end', () => {
          if (size === pixels.length) take(pixels);
          response.writeHead(size === pixels.length ? 204 : 400).end();
        });
      } else if (path === '/')
        response
          .setHeader('Content-Type', 'text/html')
          .end('<!doctype html><title>Drawing</title><script type="module" src="draw-page.js"></script>');
      else response.writeHead(404).end();
    });
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    const url = `http://127.0.0.1:${(server.address() as AddressInfo).port}/${secret}/`;
    let failure: unknown;
    // The stand-in draws other bytes: it is for where there is nothing else, not for where a start has failed once.
    const ways = DRAWING.flatMap((drawing, way) =>
      Array.from({ length: starts[way]! }, (_, before) => ({ drawing, before })),
    );
    for (const { drawing, before } of ways) {
      if (before > 0) await new Promise((resolve) => setTimeout(resolve, START_WAIT_MS * before));
      let browser: Browser | null = null;
      try {
        browser = await chromium.launch({
          executablePath: CHROMIUM,
          chromiumSandbox: inSandbox(process.env, process.getuid?.()),
          args: [...FLAGS, ...drawing],
        });
        const session = await browser.newBrowserCDPSession();
        await session.send('Target.setDiscoverTargets', { discover: true });
        const { browserContextId } = await session.send('Target.createBrowserContext', {
          disposeOnDetach: true,
        });
        const { targetId } = await session.send('Target.createTarget', { url, browserContextId });
        const { sessionId } = await session.send('Target.attachToTarget', { targetId, flatten: false });
        drawer = new DrawingBrowser(server, browser, session, sessionId, url);
        await drawer.ready();
        drawer.library = String(await drawer.evaluate('whirl.library()'));
        if (like !== null && drawer.library !== like)
          throw new Error(`It draws with ${drawer.library} now, not with ${like}.`);
        drawer.program = `${createHash('sha256').update(page).digest('hex')} ${browser.version()}`;
        return drawer;
      } catch (error) {
        failure = error;
        await browser?.close().catch(() => undefined);
      }
    }
    server.close();
    throw new Error(whyNoBrowser(failure));
  }

  private async ready(): Promise<void> {
    for (let i = 0; i < READY_TRIES; i++) {
      const drawable = await this.evaluate(
        `typeof whirl === 'object' && Boolean(new OffscreenCanvas(1, 1).getContext('webgl2'))`,
      ).catch(() => undefined);
      if (drawable === true) return;
      if (
        drawable === false &&
        (await this.evaluate(`typeof whirl === 'object'`).catch(() => false)) === true
      )
        throw new Error('This browser offers no WebGL 2.');
      await new Promise((resolve) => setTimeout(resolve, READY_WAIT_MS));
    }
    throw new Error('The drawing page did not open.');
  }

  private evaluate(expression: string, limitMs = ANSWER_MS): Promise<unknown> {
    const id = ++this.calls;
    const answer = new Promise<unknown>((resolve, reject) => this.waiting.set(id, { resolve, reject }));
    const limit = setTimeout(() => {
      this.waiting
        .get(id)
        ?.reject(new Error(`The drawing page has not answered for ${Math.round(limitMs / 1000)} seconds.`));
      this.waiting.delete(id);
    }, limitMs);
    const settled = (): void => clearTimeout(limit);
    answer.then(settled, settled);
    const message = JSON.stringify({
      id,
      method: 'Runtime.evaluate',
      params: { expression, awaitPromise: true, returnByValue: true },
    });
    this.session
      .send('Target.sendMessageToTarget', { sessionId: this.target, message })
      .catch((error: unknown) => {
        this.waiting.get(id)?.reject(error instanceof Error ? error : new Error(String(error)));
        this.waiting.delete(id);
      });
    return answer;
  }

  private answered(answer: Answer): void {
    const call = answer.id === undefined ? undefined : this.waiting.get(answer.id);
    if (!call || answer.id === undefined) return;
    this.waiting.delete(answer.id);
    const thrown = answer.result?.exceptionDetails;
    if (answer.error || thrown)
      call.reject(
        new Error(thrown?.exception?.description ?? thrown?.text ?? answer.error?.message ?? 'unknown'),
      );
    else call.resolve(answer.result?.result?.value);
  }

  private failAll(error: Error): void {
    for (const call of this.waiting.values()) call.reject(error);
    this.waiting.clear();
  }

  /**
   * Takes a shot to draw from now on.
   * @throws LastingError when a file of the shot is not to be had
   */
  async load(
    shot: Shot,
    size: PictureSize,
    loudness: LoudnessTables = {},
    inner: readonly InnerShot[] = [],
  ): Promise<void> {
    this.shot = shot;
    this.loudness = loudness;
    this.inner = inner;
    this.missing = null;
    this.size = size;
    const millions = Math.max(0.25, (size.width * size.height) / 1e6);
    this.frameLimit = ANSWER_MS + ((size.samples ?? shot.setup.samples ?? 1) - 1) * SAMPLE_MS * millions;
    try {
      await this.evaluate(
        `whirl.load('shot', ${size.width}, ${size.height}, ${size.alpha}, ${size.finest === true}, ${size.samples ?? null}, ${size.effects !== false}, ${size.deep === true}, ${size.side ?? SIDE})`,
      );
    } catch (error) {
      const missing = this.missing as string | null;
      throw missing === null ? error : new LastingError(`A file of the shot is missing: ${missing}`);
    }
  }

  /** One frame as PNG, with straight alpha where the shot was loaded with it. */
  async draw(frame: number): Promise<Buffer> {
    const { picture } = await this.drawAhead(frame);
    return pngOf(await picture);
  }

  /**
   * Draws a frame, whose picture comes while the next one may be drawn already, also one of another shot with the same
   * number.
   */
  async drawAhead(frame: number): Promise<{ readonly picture: Promise<RawFrame> }> {
    const { width, height, alpha, deep = false } = this.size;
    const drawing = ++this.drawings;
    const pixels = new Promise<Buffer>((resolve) => this.awaited.set(drawing, resolve));
    try {
      await this.evaluate(`whirl.draw(${frame}, ${drawing})`, this.frameLimit);
    } catch (error) {
      this.awaited.delete(drawing);
      throw error;
    }
    const arrive = async (): Promise<RawFrame> => {
      try {
        await this.evaluate(`whirl.sent(${drawing})`);
        return { width, height, alpha, deep, pixels: await pixels };
      } finally {
        this.awaited.delete(drawing);
      }
    };
    const picture = arrive();
    picture.catch(() => undefined);
    return { picture };
  }

  /** Draws a frame and throws it away: how long drawing alone takes. */
  async drawForNothing(frame: number): Promise<void> {
    await this.evaluate(`whirl.draw(${frame}, null)`, this.frameLimit);
  }

  async close(): Promise<void> {
    this.ended = true;
    await this.browser.close().catch(() => undefined);
    this.server.close();
    this.server.closeAllConnections();
  }
}

interface Answer {
  readonly id?: number;
  readonly error?: { message: string };
  readonly result?: {
    result?: { value?: unknown };
    exceptionDetails?: { text: string; exception?: { description?: string } };
  };
}
