/** What the tabs of one device do together: one of them sends at a time, and each hears what another wrote down or sent. */

const NAME = 'katharos-outbox';
/** A tab that holds the turn longer than this is stuck: what is sent twice is stored once. */
const LONGEST_TURN_MS = 20_000;

/** Runs work while no other tab does work of that name; where the browser knows no turns, or another does not end its own, all the same. */
export async function inTurn(work: () => Promise<void>, name = NAME): Promise<void> {
  // only a page that was opened safely has them
  const locks = (navigator as Partial<Navigator>).locks;
  if (!locks) {
    await work();
    return;
  }
  const turn = { began: false };
  try {
    await locks.request(name, { signal: AbortSignal.timeout(LONGEST_TURN_MS) }, async () => {
      turn.began = true;
      await work();
    });
  } catch (e) {
    if (turn.began) throw e;
    await work();
  }
}

let channel: BroadcastChannel | undefined;
function theChannel(): BroadcastChannel | undefined {
  if (typeof BroadcastChannel === 'undefined') return undefined;
  channel ??= new BroadcastChannel(NAME);
  // outside a browser an open channel keeps its process from ending
  (channel as { unref?: () => void }).unref?.();
  return channel;
}

/** What a tab tells: what is kept on this device changed, or pictures of it did, the server has taken some of it, stumbles on jobs, or is away. */
export type News =
  | { readonly kind: 'changed' }
  | { readonly kind: 'pictures' }
  | { readonly kind: 'sent'; readonly ids: readonly string[] }
  | { readonly kind: 'failed'; readonly failing: Readonly<Record<string, string>> }
  | { readonly kind: 'away' };

/** Tells the other tabs of this device. */
export const tellOthers = (news: News): void => theChannel()?.postMessage(news);

/** Calls back with what another tab tells. */
export function whenOthersTell(call: (news: News) => void): void {
  theChannel()?.addEventListener('message', (e: MessageEvent<News>) => {
    call(e.data);
  });
}

/**
 * Asks the browser not to clear what is kept here when the device runs out of room.
 * @returns whether it agreed; null where it cannot be asked
 */
export async function askToStay(): Promise<boolean | null> {
  const storage = (navigator as Partial<Navigator>).storage;
  if (typeof storage?.persist !== 'function') return null;
  try {
    return (await storage.persisted()) || (await storage.persist());
  } catch {
    return null;
  }
}
