/** An answer with its JSON; status 0 when there was none. */
export interface Answer<T> {
  readonly status: number;
  readonly body: T;
}

const PATIENCE_MS = 10_000;

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

/** Asks until there is an answer that is no sign of trouble on the way. */
export async function askOn<T>(url: string, method: string, path: string, body?: unknown): Promise<T> {
  for (;;) {
    const answer = await ask<T>(url, method, path, body);
    if (answer.status >= 200 && answer.status < 300) return answer.body;
    if (answer.status >= 400 && answer.status < 500)
      throw new Error(
        `${method} ${path} was refused with ${answer.status}: ${JSON.stringify(answer.body).slice(0, 300)}`,
      );
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
}
