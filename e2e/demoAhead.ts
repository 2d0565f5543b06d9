import { demoPattern } from './app.ts';

/** Begins to make the demo that tests copy, while those that need none are under way. */
export default function begin(): void {
  // whoever needs it makes it then
  demoPattern().catch(() => undefined);
}
