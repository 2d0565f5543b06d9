import { afterAll } from '@jest/globals';
import { expose, type Endpoint } from 'comlink';
import { core } from '../data/coreAnswers.ts';
import { KEY_PARTS } from '../data/shelfKeys.ts';

/** One end of a line between two threads that are one: what is sent arrives as a copy, a moment later. */
class End extends EventTarget implements Endpoint {
  other: End | null = null;
  postMessage(message: unknown): void {
    const data: unknown = structuredClone(message);
    setTimeout(() => this.other?.dispatchEvent(new MessageEvent('message', { data })));
  }
}

type Question = (...args: never[]) => unknown;
const answers = new Map<string, unknown>();
const sent = new Map<string, string>();
/** Answers what was asked before on the same shelf without working it out again: many tests stand in one house. */
const remembering = Object.fromEntries(
  Object.entries(core).map(([name, ask]) => [
    name,
    (...args: unknown[]): unknown => {
      if (name === 'setShelf' || name === 'setPlaced')
        sent.set(`${name} ${String(args[0])}`, JSON.stringify(args.slice(1)));
      if (['setShelf', 'setPlaced', 'setKept', 'prefetchDecision', 'version'].includes(name))
        return (ask as Question)(...(args as never[]));
      // what is asked of a shelf names it by a key, which the page makes anew for each
      const [shelf = '', place = ''] = typeof args[0] === 'string' ? args[0].split(KEY_PARTS) : [];
      const keyed = sent.has(`setShelf ${shelf}`);
      const of = keyed ? [sent.get(`setShelf ${shelf}`), sent.get(`setPlaced ${place}`), args.slice(1)] : args;
      const question = JSON.stringify([name, of]);
      if (!answers.has(question)) answers.set(question, (ask as Question)(...(args as never[])));
      return answers.get(question);
    },
  ]),
);

/** Lets what the page asks of its worker be worked out beside it: there are no workers in these tests otherwise. */
export function workInPage(): void {
  function InPage(): Endpoint {
    const [here, there] = [new End(), new End()];
    here.other = there;
    there.other = here;
    expose(remembering, there);
    return here;
  }
  Object.assign(globalThis, { Worker: InPage });
  afterAll(() => {
    Reflect.deleteProperty(globalThis, 'Worker');
  });
}
