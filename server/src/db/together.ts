/**
 * Has what many ask at once asked in one go. Whoever asks while it is being asked waits for the next asking, which begins
 * after they came, so that nobody is told less than what stood there when they asked.
 * @param ask answers each of those that are asked, in their order
 */
export function gathered<K, V>(ask: (all: readonly K[]) => Promise<readonly V[]>): (one: K) => Promise<V> {
  let running: Promise<readonly V[]> | null = null;
  let next: { readonly all: K[]; readonly answers: Promise<readonly V[]> } | null = null;
  const begin = (all: readonly K[]): Promise<readonly V[]> => {
    const own = ask(all).finally(() => {
      if (running === own) running = null;
    });
    running = own;
    return own;
  };
  const after = (before: Promise<unknown>): NonNullable<typeof next> => {
    const all: K[] = [];
    const then = (): Promise<readonly V[]> => {
      next = null;
      return begin(all);
    };
    return { all, answers: before.then(then, then) };
  };
  return async (one) => {
    if (!running && !next) return answer(await begin([one]), 0);
    next ??= after(running ?? Promise.resolve());
    const place = next.all.push(one) - 1;
    return answer(await next.answers, place);
  };
}

function answer<V>(answers: readonly V[], place: number): V {
  if (place >= answers.length) throw new Error('fewer answers than were asked for');
  return answers[place] as V;
}

/**
 * Has many who ask the same at once answered together.
 * @param ask what is asked; those who wait are answered as the first of them asked it
 */
export function together<A extends readonly unknown[], T>(ask: (...args: A) => Promise<T>): (...args: A) => Promise<T> {
  const one = gathered<A, T>(async (all) => {
    const [first] = all;
    if (!first) return [];
    const told = await ask(...first);
    return all.map(() => told);
  });
  return (...args) => one(args);
}
