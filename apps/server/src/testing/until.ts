// Waiting in tests for work that runs elsewhere.

/** Reads every tenth of a second until the value is what is waited for; gives up after two minutes. */
export async function until<T>(read: () => Promise<T>, done: (value: T) => boolean): Promise<T> {
  let value = await read();
  for (let i = 0; i < 1200; i++) {
    if (done(value)) return value;
    await new Promise((resolve) => setTimeout(resolve, 100));
    value = await read();
  }
  throw new Error(`waited too long; seen last: ${JSON.stringify(value).slice(0, 2000)}`);
}
