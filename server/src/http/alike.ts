import { promisify } from 'node:util';
import { gzip } from 'node:zlib';
import type { Request, Response } from 'express';

const packed = promisify(gzip);

/** JSON that may be large, or that many are sent alike: packed in one go, and once for all of them. */
export class Alike {
  private readonly text: string;
  private gzipped: Promise<Buffer> | null = null;
  constructor(text: string) {
    this.text = text;
  }

  /** Sends it, packed to whoever takes it so. */
  async send(req: Request, res: Response): Promise<void> {
    res.type('json').vary('Accept-Encoding');
    if (req.acceptsEncodings('gzip') === false) {
      res.send(this.text);
      return;
    }
    this.gzipped ??= packed(this.text, { level: 1 }).catch((e: unknown) => {
      // whoever asks next has it tried again
      this.gzipped = null;
      throw e;
    });
    const body = await this.gzipped;
    res.set('Content-Encoding', 'gzip').send(body);
  }
}
