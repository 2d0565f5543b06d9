import type { Spot } from '@katharos/core';
import { useEffect, useRef, useState } from 'react';

/** The hand rests so long after a key before what it moved is written down, ms. */
const REST_MS = 600;

/** What is on its way, and what a hand does to it. */
export interface Moving<P extends Spot> {
  readonly moving: { readonly key: string; readonly pose: P } | null;
  /** dragged so far from where it stood */
  readonly drag: (key: string, by: Spot) => void;
  /** moved so much further by a key: it is put down once the hand rests */
  readonly nudge: (key: string, by: Spot) => void;
  readonly drop: () => void;
}

/**
 * Moves things about: while they are on their way nothing is written down.
 * @param at where a thing stands @param kept where it may be instead of where the hand has it @param onPlace it is put down
 */
export function useMoving<P extends Spot>(
  at: (key: string) => P | null,
  kept: (key: string, pose: P) => P,
  onPlace: (key: string, pose: P) => void,
): Moving<P> {
  const [moving, setMoving] = useState<{ readonly key: string; readonly pose: P } | null>(null);
  const now = useRef<typeof moving>(null);
  const began = useRef<typeof moving>(null);
  const timer = useRef(0);
  const place = useRef(onPlace);
  useEffect(() => {
    place.current = onPlace;
  });
  const show = (m: typeof moving): void => {
    now.current = m;
    setMoving(m);
  };
  const drop = (): void => {
    window.clearTimeout(timer.current);
    const m = now.current;
    began.current = null;
    show(null);
    if (m) place.current(m.key, m.pose);
  };
  // what was moved by a key and not put down yet is put down when the page is left
  useEffect(
    () => () => {
      window.clearTimeout(timer.current);
      if (now.current) place.current(now.current.key, now.current.pose);
      now.current = null;
    },
    [],
  );
  const moved = (key: string, from: P, by: Spot): void => {
    const pose = { ...from, xMm: from.xMm + by.xMm, yMm: from.yMm + by.yMm, zMm: Math.max(0, from.zMm + by.zMm) };
    show({ key, pose: kept(key, pose) });
  };
  return {
    moving,
    drag: (key, by) => {
      const pose = at(key);
      if (!pose) return;
      if (began.current?.key !== key) began.current = { key, pose };
      moved(key, began.current.pose, by);
    },
    nudge: (key, by) => {
      if (now.current && now.current.key !== key) drop();
      const from = now.current?.pose ?? at(key);
      if (!from) return;
      moved(key, from, by);
      window.clearTimeout(timer.current);
      timer.current = window.setTimeout(drop, REST_MS);
    },
    drop,
  };
}
