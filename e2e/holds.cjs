/** Taken in before the server by the soak: told to by SIGUSR2, it clears up and writes down what it still holds, in bytes. */
const { renameSync, writeFileSync } = require('node:fs');
const { isMainThread } = require('node:worker_threads');

if (isMainThread)
  process.on('SIGUSR2', () => {
    globalThis.gc();
    const to = process.env.HOLDS;
    writeFileSync(`${to}.part`, String(process.memoryUsage().heapUsed));
    renameSync(`${to}.part`, to);
  });
