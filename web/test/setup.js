// jsdom has no matchMedia, ResizeObserver or IndexedDB; Mantine and the outbox ask for them.
import 'fake-indexeddb/auto';
import * as React from 'react';
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
// jsdom walks the whole tree for each control's labels, and then for each label's control: they are looked up once for each state
// of the document, which it counts
const [inside] = Object.getOwnPropertySymbols(document).filter((s) => s.description === 'impl');
const labelled = { version: -1, by: new Map() };
const labelsFor = (id) => {
  const version = document[inside]._version;
  if (labelled.version !== version) {
    labelled.by.clear();
    for (const label of document.querySelectorAll('label[for]'))
      labelled.by.set(label.htmlFor, [...(labelled.by.get(label.htmlFor) ?? []), label]);
    labelled.version = version;
  }
  return labelled.by.get(id) ?? [];
};
for (const name of ['Input', 'TextArea', 'Select', 'Button', 'Meter', 'Output', 'Progress'])
  Object.defineProperty(window[`HTML${name}Element`].prototype, 'labels', {
    get() {
      if (this.type === 'hidden') return null;
      const around = this.closest('label');
      const named = this.id === '' ? [] : labelsFor(this.id);
      return around && !around.getAttribute('for') ? [around, ...named] : named;
    },
  });

// jsdom matches every rule of every sheet for each element that is asked for by its role, and anew for each figure a floating box
// asks for. No sheet of ours is loaded here: what elements say themselves and how their tags are shown are all there is
const whole = window.getComputedStyle.bind(window);
const displays = new Map();
const displayOfTag = ({ localName }) => {
  if (!displays.has(localName)) displays.set(localName, whole(document.createElement(localName)).display);
  return displays.get(localName);
};
const reckoned = {
  display: (element) => element.style.display || (element.hidden ? 'none' : displayOfTag(element)),
  visibility: (element) => {
    for (let e = element; e; e = e.parentElement) if (e.style?.visibility) return e.style.visibility;
    return 'visible';
  },
};
window.getComputedStyle = (element) => {
  const valueOf = (name) => reckoned[name]?.(element) ?? element.style.getPropertyValue(name);
  return new Proxy(element.style, {
    get: (style, name) =>
      name === 'getPropertyValue' ? valueOf : (reckoned[name]?.(element) ?? Reflect.get(style, name)),
  });
};

// React takes a stack for each of the first ten thousand elements of a second, to tell in a warning who made one: a seventh of
// what a page costs here. Where it keeps count it is told that they are spent
const counted = React.__CLIENT_INTERNALS_DO_NOT_USE_OR_WARN_USERS_THEY_CANNOT_UPGRADE;
if (counted) Object.defineProperty(counted, 'recentlyCreatedOwnerStacks', { get: () => 10_000, set: () => {} });
