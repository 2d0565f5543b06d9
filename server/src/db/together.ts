/**
 * Has many who ask the same at once answered together. Whoever asks while it is being asked waits for the next asking, which
 * begins after they came, so that nobody is told less than what stood there when they asked.
 * @param ask what is asked; the next one is asked as the first of those who wait would have it
 */
export function together<A extends readonly unknown[], T>(ask: (...args: A) => Promise<T>): (...args: A) => Promise<T> {
  let running: Promise<T> | null = null;
  let next: Promise<T> | null = null;
  const begin = (...args: A): Promise<T> => {
    const own = ask(...args).finally(() => {
      if (running === own) running = null;
    });
    running = own;
    return own;
  };
  return (...args) => {
    if (!running) return begin(...args);
    next ??= running
      .then(
        () => undefined,
        () => undefined,
      )
      .then(() => {
        next = null;
        return begin(...args);
      });
    return next;
  };
}
