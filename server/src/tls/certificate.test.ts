import { X509Certificate } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync, statSync } from 'node:fs';
import { createServer, get } from 'node:https';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { ownCertificate } from './certificate.ts';

const DAY_MS = 86400000;
const now = Date.now();
let folder = '';
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'katharos-tls.'));
});
afterAll(() => {
  rmSync(folder, { recursive: true });
});
const NAMES = ['localhost', '127.0.0.1', 'cupboard.firm.example'];

describe('a certificate of the firm’s own', () => {
  test('is trusted by whoever installed the authority, for its names and no others', async () => {
    const { key, cert, authority } = await ownCertificate(folder, NAMES, now);
    const server = createServer({ key, cert }, (_req, res) => res.end('safe')).listen(0, '127.0.0.1');
    await new Promise((r) => server.once('listening', r));
    const { port } = server.address() as AddressInfo;
    const ask = (ca: string | undefined, servername: string): Promise<string> =>
      new Promise((resolve) => {
        get({ host: '127.0.0.1', port, servername, ...(ca === undefined ? {} : { ca }), agent: false }, (res) => {
          res.resume();
          resolve('trusted');
        }).on('error', (e) => {
          resolve((e as NodeJS.ErrnoException).code ?? e.message);
        });
      });
    expect(await ask(authority, 'localhost')).toBe('trusted');
    expect(await ask(authority, 'cupboard.firm.example')).toBe('trusted');
    expect(await ask(authority, 'elsewhere.example')).toBe('ERR_TLS_CERT_ALTNAME_INVALID');
    expect(await ask(undefined, 'localhost')).toMatch(/UNABLE_TO_VERIFY|SELF_SIGNED/);
    server.closeAllConnections();
    server.close();
  });
  test('stays from start to start, its keys for their owner alone', async () => {
    const first = await ownCertificate(folder, NAMES, now);
    expect(await ownCertificate(folder, NAMES, now + 100 * DAY_MS)).toEqual(first);
    expect(await ownCertificate(folder, ['127.0.0.1'], now)).toEqual(first);
    for (const f of ['authority.key', 'server.key']) expect(statSync(join(folder, f)).mode & 0o777).toBe(0o600);
  });
  test('is made anew near its end and for another name, by the same authority', async () => {
    const first = await ownCertificate(folder, NAMES, now);
    const later = await ownCertificate(folder, NAMES, now + 340 * DAY_MS);
    expect([later.authority, later.cert === first.cert]).toEqual([first.authority, false]);
    const more = await ownCertificate(folder, [...NAMES, '192.168.7.20'], now + 340 * DAY_MS);
    const c = new X509Certificate(readFileSync(join(folder, 'server.crt')));
    expect([c.checkIP('192.168.7.20'), more.authority]).toEqual(['192.168.7.20', first.authority]);
    // phones take none that lasts longer than this
    expect(Date.parse(c.validTo) - Date.parse(c.validFrom)).toBeLessThan(398 * DAY_MS);
    expect(new X509Certificate(first.authority).ca).toBe(true);
    expect(c.ca).toBe(false);
  });
});
