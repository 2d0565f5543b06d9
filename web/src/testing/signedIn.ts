import type { Role, Session, Signed } from '@katharos/contract';
import type { AppStore } from '../data/store.ts';
import { told } from '../data/session.ts';

/** What the server says of a device on which these are signed in, the first asked last. */
export const sessionOf = (...here: Signed[]): Session => ({
  person: here[0] ?? null,
  here,
  click: null,
  begun: true,
  ended: false,
  days: 30,
  remembered: true,
});

/** Signs somebody in as the server's answer does. */
export function signInAs(store: AppStore, id: string, role: Role = 'owner', name = 'Imra Tole'): void {
  store.dispatch(told({ session: sessionOf({ id, name, role }) }));
}
