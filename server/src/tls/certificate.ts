import { X509Certificate } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { isIP } from 'node:net';
import { networkInterfaces } from 'node:os';
import { join } from 'node:path';

const DAY_MS = 86400000;
/** The authority is installed once on each device: it lasts. */
const AUTHORITY_DAYS = 3650;
/** Phones take no longer ones. */
const CERTIFICATE_DAYS = 390;
/** Made anew this long before it ends. */
const AHEAD_DAYS = 60;

/** What a server shows, and the public part of what signed it. */
export interface Certificate {
  readonly key: string;
  readonly cert: string;
  /** the firm's own authority, to be installed on each device; no secret */
  readonly authority: string;
}

/** Names and addresses this machine has on its own network. */
export function ownNames(hostname: string): string[] {
  const addresses = Object.values(networkInterfaces())
    .flatMap((n) => n ?? [])
    .filter((n) => !n.internal && n.family === 'IPv4')
    .map((n) => n.address);
  return [...new Set([hostname.toLowerCase(), ...addresses])];
}

/** Whether a certificate is good for all of these names, signed by this authority, and not near its end. */
function isGood(cert: string, authority: string, names: readonly string[], nowMs: number): boolean {
  try {
    const c = new X509Certificate(cert);
    const left = Date.parse(c.validTo) - nowMs;
    const has = (n: string): boolean => (isIP(n) ? c.checkIP(n) : c.checkHost(n)) !== undefined;
    return left > AHEAD_DAYS * DAY_MS && names.every(has) && c.verify(new X509Certificate(authority).publicKey);
  } catch {
    return false;
  }
}

/** Written beside and renamed: no start that is killed leaves half a key. */
function write(file: string, text: string, mode: number): void {
  writeFileSync(`${file}.new`, text, { mode });
  renameSync(`${file}.new`, file);
}

/**
 * The certificate of this server, signed by the firm's own authority; either is made where it is missing, the certificate
 * also where names were added or its end is near. The authority stays: devices know it.
 * @param folder for its owner's eyes @param names without a port @param nowMs ms since 1970
 */
export async function ownCertificate(folder: string, names: readonly string[], nowMs: number): Promise<Certificate> {
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const at = (name: string): string => join(folder, name);
  const read = (name: string): string | null => (existsSync(at(name)) ? readFileSync(at(name), 'utf8') : null);
  // asked for only where there is one to be made
  const make = async () => (await import('selfsigned')).generate;
  const common = { keyType: 'ec', curve: 'P-256', algorithm: 'sha256' } as const;
  let [authority, authorityKey] = [read('authority.crt'), read('authority.key')];
  if (authority === null || authorityKey === null) {
    const made = await (
      await make()
    )([{ name: 'commonName', value: 'Katharos, the firm’s own authority' }], {
      ...common,
      notBeforeDate: new Date(nowMs - DAY_MS),
      notAfterDate: new Date(nowMs + AUTHORITY_DAYS * DAY_MS),
      extensions: [
        { name: 'basicConstraints', cA: true, pathLenConstraint: 0, critical: true },
        { name: 'keyUsage', keyCertSign: true, cRLSign: true, critical: true },
      ],
    });
    [authority, authorityKey] = [made.cert, made.private];
    write(at('authority.key'), authorityKey, 0o600);
    write(at('authority.crt'), authority, 0o644);
  }
  let [cert, key] = [read('server.crt'), read('server.key')];
  if (cert === null || key === null || !isGood(cert, authority, names, nowMs)) {
    const made = await (
      await make()
    )([{ name: 'commonName', value: names[0] ?? 'localhost' }], {
      ...common,
      notBeforeDate: new Date(nowMs - DAY_MS),
      notAfterDate: new Date(nowMs + CERTIFICATE_DAYS * DAY_MS),
      ca: { key: authorityKey, cert: authority },
      extensions: [
        { name: 'basicConstraints', cA: false, critical: true },
        { name: 'keyUsage', digitalSignature: true, critical: true },
        { name: 'extKeyUsage', serverAuth: true },
        { name: 'subjectAltName', altNames: names.map((n) => (isIP(n) ? { type: 7, ip: n } : { type: 2, value: n })) },
      ],
    });
    [cert, key] = [made.cert, made.private];
    write(at('server.key'), key, 0o600);
    write(at('server.crt'), cert, 0o644);
  }
  return { key, cert, authority };
}
