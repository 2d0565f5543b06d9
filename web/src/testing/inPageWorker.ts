import { afterAll } from '@jest/globals';
import { expose, type Endpoint } from 'comlink';
import { core } from '../data/core.worker.ts';

/** One end of a line between two threads that are one: what is sent arrives as a copy, a moment later. */
class End extends EventTarget implements Endpoint {
  other: End | null = null;
  postMessage(message: unknown): void {
    const data: unknown = structuredClone(message);
    setTimeout(() => this.other?.dispatchEvent(new MessageEvent('message', { data })));
  }
}

/** Lets what the page asks of its worker be worked out beside it: there are no workers in these tests otherwise. */
export function workInPage(): void {
  function InPage(): Endpoint {
    const [here, there] = [new End(), new End()];
    here.other = there;
    there.other = here;
    expose(core, there);
    return here;
  }
  Object.assign(globalThis, { Worker: InPage });
  afterAll(() => {
    Reflect.deleteProperty(globalThis, 'Worker');
  });
}
