// jsdom has no matchMedia, ResizeObserver or IndexedDB; Mantine and the outbox ask for them.
import 'fake-indexeddb/auto';
window.matchMedia ??= (query) => ({
  // the empty query matches, as in a browser
  matches: query === '',
  media: query,
  addEventListener: () => undefined,
  removeEventListener: () => undefined,
  addListener: () => undefined,
  removeListener: () => undefined,
});
window.ResizeObserver ??= class {
  observe() {}
  unobserve() {}
  disconnect() {}
};
// a growing text area waits for the fonts
if (!document.fonts) Object.defineProperty(document, 'fonts', { value: new EventTarget() });
