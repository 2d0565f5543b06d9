/** Taken in before the server by the bench: told to, it answers how long its loop was held at most since it was told last, ms. */
const { monitorEventLoopDelay } = require('node:perf_hooks');
const { isMainThread } = require('node:worker_threads');

const EACH_MS = 2;
if (isMainThread && process.send) {
  const between = monitorEventLoopDelay({ resolution: EACH_MS });
  between.enable();
  process.on('message', () => {
    process.send(Math.max(0, between.max / 1e6 - EACH_MS));
    between.reset();
  });
  // whoever started it may end it as ever
  process.channel.unref();
}
