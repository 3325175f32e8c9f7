// A server that answers from a table and remembers what it was asked: for tests of screens and hooks.

export interface Asked {
  readonly method: string;
  readonly path: string;
  /** The JSON that was sent, or null. */
  readonly body: unknown;
}

type Answer = unknown | ((asked: Asked) => unknown);

/** An answer that says no, in the server's words. */
export class Refusal {
  constructor(
    readonly status: number,
    readonly detail: string,
  ) {}
}

export interface FakeServer {
  readonly asked: readonly Asked[];
  /** What was asked by a method, without the asking for data. */
  sent(method: string): readonly Asked[];
  /** Changes what is answered. */
  answer(route: string, answer: Answer): void;
  restore(): void;
}

/**
 * Takes the place of fetch until it is restored.
 * @param routes "GET /api/jobs" and so on → JSON, a Refusal, or a function that returns one of them; without the names that pages make up
 */
export function fakeServer(routes: Readonly<Record<string, Answer>>): FakeServer {
  const before = globalThis.fetch;
  const table = new Map<string, Answer>(Object.entries(routes));
  const asked: Asked[] = [];
  globalThis.fetch = ((path: string, init: RequestInit = {}) => {
    const method = init.method ?? 'GET';
    const body: unknown = typeof init.body === 'string' ? JSON.parse(init.body) : null;
    const question = { method, path, body };
    asked.push(question);
    const found = table.get(`${method} ${path.replace(/&id=[0-9a-f]+$/, '')}`);
    const answer: unknown =
      typeof found === 'function'
        ? (found as (asked: Asked) => unknown)(question)
        : (found ?? new Refusal(404, `nothing at ${method} ${path}`));
    const refused = answer instanceof Refusal;
    const problem = refused && { type: 'about:blank', title: 'No', status: answer.status, detail: answer.detail };
    return Promise.resolve({
      ok: !refused,
      status: refused ? answer.status : 200,
      json: () => Promise.resolve(refused ? problem : answer),
    });
  }) as typeof fetch;
  return {
    asked,
    sent: (method) => asked.filter((a) => a.method === method),
    answer: (route, answer) => void table.set(route, answer),
    restore: () => {
      globalThis.fetch = before;
    },
  };
}
