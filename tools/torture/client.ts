/** An answer with its JSON; status 0 when there was none. */
export interface Answer<T> {
  readonly status: number;
  readonly body: T;
}

const PATIENCE_MS = 10_000;
/** For an answer that must come in the end. */
const PATIENCE_IN_ALL_MS = 180_000;

/** Asks the server something, once. */
export async function ask<T>(url: string, method: string, path: string, body?: unknown): Promise<Answer<T>> {
  try {
    const response = await fetch(`${url}/api${path}`, {
      method,
      headers: body === undefined ? {} : { 'Content-Type': 'application/json' },
      body: body === undefined ? undefined : JSON.stringify(body),
      signal: AbortSignal.timeout(PATIENCE_MS),
    });
    return { status: response.status, body: (await response.json()) as T };
  } catch {
    return { status: 0, body: {} as T };
  }
}

/**
 * Asks until there is an answer that is no sign of trouble on the way.
 * @throws Error when it is refused, and when nothing answers for three minutes
 */
export async function askOn<T>(url: string, method: string, path: string, body?: unknown): Promise<T> {
  const limit = Date.now() + PATIENCE_IN_ALL_MS;
  for (;;) {
    const answer = await ask<T>(url, method, path, body);
    if (answer.status >= 200 && answer.status < 300) return answer.body;
    if (answer.status >= 400 && answer.status < 500)
      throw new Error(
        `${method} ${path} was refused with ${answer.status}: ${JSON.stringify(answer.body).slice(0, 300)}`,
      );
    if (Date.now() > limit)
      throw new Error(
        `${method} ${path} had no answer for ${PATIENCE_IN_ALL_MS / 1000} s; the last: ${answer.status} ${JSON.stringify(answer.body).slice(0, 300)}`,
      );
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
}
