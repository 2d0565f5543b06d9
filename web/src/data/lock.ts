import * as z from 'zod';

/**
 * A short code by which somebody opens the application again on this device. It keeps curious eyes out and is no encryption:
 * who takes the device apart can read what is on it.
 */
const LockSchema = z.object({ salt: z.string(), hash: z.string(), wrong: z.number() });
const keyOf = (personId: string): string => `katharos.code.${personId}`;
/** Who opened it in this tab: a tab that is closed, or a browser, asks again. */
const OPENED_KEY = 'katharos.opened';

/** After so many wrong ones the code no longer opens: only signing in does. */
export const MOST_WRONG = 5;
/** A page that nobody looked at for so long asks again, ms. */
export const LEFT_MS = 600_000;
/** Rounds of PBKDF2 with SHA-256: a moment for one code, days for all of them on one machine. */
const ROUNDS = 600_000;

const hex = (b: ArrayBuffer | Uint8Array): string =>
  [...new Uint8Array(b)].map((x) => x.toString(16).padStart(2, '0')).join('');

async function hashOf(code: string, salt: string): Promise<string> {
  const text = new TextEncoder();
  const key = await crypto.subtle.importKey('raw', text.encode(code), 'PBKDF2', false, ['deriveBits']);
  const how = { name: 'PBKDF2', hash: 'SHA-256', salt: text.encode(salt), iterations: ROUNDS };
  return hex(await crypto.subtle.deriveBits(how, key, 256));
}

function read(personId: string): z.infer<typeof LockSchema> | null {
  try {
    return LockSchema.safeParse(JSON.parse(localStorage.getItem(keyOf(personId)) ?? 'null')).data ?? null;
  } catch {
    return null;
  }
}

/** Whether a code of somebody may be one: four to eight digits. */
export const isCode = (code: string): boolean => /^\d{4,8}$/.test(code);

/** Sets somebody's code for this device, and counts this tab as opened. @throws where the device keeps nothing */
export async function setCode(personId: string, code: string): Promise<void> {
  const salt = hex(crypto.getRandomValues(new Uint8Array(16)));
  localStorage.setItem(keyOf(personId), JSON.stringify({ salt, hash: await hashOf(code, salt), wrong: 0 }));
  opened(personId);
}

/** Takes somebody's code off this device. */
export function dropCode(personId: string): void {
  localStorage.removeItem(keyOf(personId));
}

/** Whether somebody has a code on this device. */
export const hasCode = (personId: string): boolean => read(personId) !== null;

/** Notes who opened it in this tab. */
export function opened(personId: string): void {
  try {
    sessionStorage.setItem(OPENED_KEY, personId);
  } catch {
    // asked again at the next reload
  }
}

/** Has this tab ask again. */
export function shut(): void {
  try {
    sessionStorage.removeItem(OPENED_KEY);
  } catch {
    // it asks anyway
  }
}

/** Whether somebody has a code here that this tab has not been opened by. */
export function isShut(personId: string | null): boolean {
  if (personId === null || !hasCode(personId)) return false;
  try {
    return sessionStorage.getItem(OPENED_KEY) !== personId;
  } catch {
    return true;
  }
}

/** What a code did: opened, wrong with so many tries left, or none is taken any more. */
export type Tried =
  | { readonly kind: 'open' }
  | { readonly kind: 'wrong'; readonly left: number }
  | { readonly kind: 'spent' };

/** Tries a code. A wrong one is counted before it is looked at, so that closing the page in between wins nothing. */
export async function tryCode(personId: string, code: string): Promise<Tried> {
  const lock = read(personId);
  if (!lock || lock.wrong >= MOST_WRONG) return { kind: 'spent' };
  const counted = { ...lock, wrong: lock.wrong + 1 };
  localStorage.setItem(keyOf(personId), JSON.stringify(counted));
  if ((await hashOf(code, lock.salt)) !== lock.hash)
    return counted.wrong >= MOST_WRONG ? { kind: 'spent' } : { kind: 'wrong', left: MOST_WRONG - counted.wrong };
  localStorage.setItem(keyOf(personId), JSON.stringify({ ...lock, wrong: 0 }));
  opened(personId);
  return { kind: 'open' };
}
