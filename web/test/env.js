/**
 * A page for tests: jsdom's document and all that goes with it beside Node's globals, in a plain context. In a window of jsdom's
 * own each mention of a global is looked up by it first, which a fifth of a page's time goes to.
 */
import { runInNewContext } from 'node:vm';
import { JSDOM, VirtualConsole } from 'jsdom';
import Plain from '../../scripts/jest/environment.js';

/** Node's own serve a page as a browser's would; jsdom has none or half of them. */
const OF_NODE = new Set([
  'fetch',
  'Request',
  'Response',
  'Headers',
  'FormData',
  'AbortController',
  'AbortSignal',
  'structuredClone',
  'TextEncoder',
  'TextDecoder',
  'ReadableStream',
  'TransformStream',
  'WritableStream',
  'BroadcastChannel',
  'crypto',
  'performance',
  'console',
  'queueMicrotask',
]);
/** Names of the page itself. */
const ITSELF = ['window', 'self', 'parent', 'top', 'frames'];

// Node's Request refuses '/api/plans': give it the page's address, as a browser would.
class LocalRequest extends Request {
  constructor(input, init) {
    super(typeof input === 'string' ? new URL(input, 'http://localhost/') : input, init);
  }
}

/** Everything a window has by name, its own and inherited. */
function namesOf(window) {
  const names = new Set();
  for (let o = window; o && o !== Object.prototype; o = Object.getPrototypeOf(o))
    for (const name of Object.getOwnPropertyNames(o)) names.add(name);
  names.delete('constructor');
  return names;
}

export default class extends Plain {
  constructor(config, context) {
    super(config, context);
    const virtualConsole = new VirtualConsole().sendTo(context.console, { omitJSDOMErrors: true });
    virtualConsole.on('jsdomError', (error) => context.console.error(error));
    this.dom = new JSDOM('<!DOCTYPE html>', { url: 'http://localhost/', pretendToBeVisual: true, virtualConsole });
    // its timers end with it, unlike Node's
    const { window } = this.dom;
    const { global } = this;
    window.addEventListener('error', ({ error }) => {
      // nobody else does anything about it: it is the test's fault
      if (error != null) process.emit('uncaughtException', error);
    });
    // what belongs to the language is the context's own
    const ofLanguage = new Set(Object.getOwnPropertyNames(runInNewContext('globalThis')));
    for (const name of namesOf(window)) {
      if (OF_NODE.has(name) || ITSELF.includes(name) || ofLanguage.has(name)) continue;
      const value = window[name];
      const lasting = /^[A-Z]/.test(name) || name === 'document';
      const bound = typeof value === 'function' && !lasting ? new Map([[value, value.bind(window)]]) : null;
      Object.defineProperty(global, name, {
        configurable: true,
        enumerable: true,
        ...(lasting
          ? { value, writable: true }
          : {
              get: () => bound?.get(window[name]) ?? window[name],
              set: (to) => {
                window[name] = to;
              },
            }),
      });
    }
    for (const name of ITSELF)
      Object.defineProperty(global, name, { value: global, configurable: true, writable: true, enumerable: true });
    // a port that somebody listens at keeps the process, and with it a run, from ending
    const ports = (this.ports = []);
    class EndingChannel extends MessageChannel {
      constructor() {
        super();
        ports.push(this.port1);
      }
    }
    Object.assign(global, { Request: LocalRequest, MessageChannel: EndingChannel });
    // no browser has them
    delete global.setImmediate;
    delete global.clearImmediate;
  }
  async teardown() {
    for (const port of this.ports ?? []) port.close();
    this.dom?.window.close();
    this.dom = null;
    await super.teardown();
  }
  exportConditions() {
    return ['browser'];
  }
}
