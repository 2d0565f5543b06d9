import { basename, dirname } from 'node:path';
import { createStream, type RotatingFileStream } from 'rotating-file-stream';

/**
 * The file the log is written to: a new one each day or 10 MB, with the fourteen before it kept beside it by their dates.
 * A log that cannot be written is told once on the console; the server goes on without it.
 */
export function openLog(file: string): RotatingFileStream {
  const log = createStream(basename(file), {
    path: dirname(file),
    interval: '1d',
    intervalBoundary: true,
    size: '10M',
    maxFiles: 14,
    initialRotation: true,
  });
  log.on('error', (e) => {
    console.error(`The log cannot be written: ${e.message}`);
  });
  return log;
}
