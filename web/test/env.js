// jsdom has no fetch/Request/Response/TextEncoder and half of crypto: take Node's.
import Env from 'jest-environment-jsdom';
const JSDOMEnvironment = Env.default ?? Env;
// Node's Request refuses '/api/plans': give it jsdom's origin, as a browser would.
class LocalRequest extends Request {
  constructor(input, init) {
    super(typeof input === 'string' ? new URL(input, 'http://localhost/') : input, init);
  }
}

export default class extends JSDOMEnvironment {
  constructor(...args) {
    super(...args);
    Object.assign(this.global, {
      fetch,
      Request: LocalRequest,
      Response,
      Headers,
      FormData,
      AbortController,
      AbortSignal,
      structuredClone,
      TextEncoder,
      TextDecoder,
      ReadableStream,
      TransformStream,
      WritableStream,
      BroadcastChannel,
    });
    // jsdom's has no subtle
    Object.defineProperty(this.global, 'crypto', { value: globalThis.crypto, configurable: true });
  }
}
