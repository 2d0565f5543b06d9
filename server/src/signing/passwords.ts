import { hash, verify } from '@node-rs/argon2';

/** A password as it is kept: argon2id, 19 MiB, two passes, its salt within (OWASP, Password Storage, 2024). */
export const hashOf = (password: string): Promise<string> => hash(password.normalize('NFKC'));

/** What nobody's password is compared with, so that a name nobody has takes as long. */
let nobodys: Promise<string> | undefined;

/** Whether a password is the one that is kept; takes as long where none is. */
export async function isPassword(kept: string | null, password: string): Promise<boolean> {
  nobodys ??= hashOf('nobody’s');
  const right = await verify(kept ?? (await nobodys), password.normalize('NFKC'));
  return kept !== null && right;
}

/** What is tried first by whoever guesses. */
const GUESSED = ['password', 'katharos', '1234567', 'qwert', 'letmein', 'welcome'];

/** What is wrong with a password somebody chooses, in words; null where nothing is. */
export function passwordFault(password: string, name: string): string | null {
  const plain = password.toLowerCase();
  if (new Set(plain).size < 5) return 'More than a few different signs, please.';
  const left = [...GUESSED, ...name.toLowerCase().split(/\s+/).filter((w) => w.length > 2)].reduce((p, w) => p.replaceAll(w, ''), plain);
  return left.replaceAll(/\d/g, '').length < 5 ? 'That is guessed at once: three or four words that do not belong together do better.' : null;
} // oxfmt-ignore
