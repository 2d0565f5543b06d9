import type { Known } from '@katharos/core';
import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import { z } from 'zod';

/** Who works on this device and what the hand is on. Sign-in comes later; the person's id is already in every write. */
export interface SessionState {
  readonly personId: string | null;
  /** readings tried in place of those taken: while a figure is typed or scrubbed; nothing of it is recorded */
  readonly trial: Trial | null;
  /** element of the Line whose card is open */
  readonly chosen: string | null;
}

/** Readings moved to see what follows, of one job. */
export interface Trial {
  readonly jobId: string;
  readonly values: Known;
  /** typing ends by itself when the figure is taken in; scrubbing stays until it is ended */
  readonly by: 'typing' | 'scrubbing';
}

const KEY = 'katharos.person';

function rememberedPerson(): string | null {
  try {
    return z.uuid().safeParse(localStorage.getItem(KEY)).data ?? null;
  } catch {
    return null;
  }
}

const slice = createSlice({
  name: 'session',
  initialState: (): SessionState => ({ personId: rememberedPerson(), chosen: null, trial: null }),
  reducers: {
    personChosen: (s, a: PayloadAction<string>) => {
      try {
        localStorage.setItem(KEY, a.payload);
      } catch {
        // private windows: asked again next time
      }
      return { ...s, personId: a.payload };
    },
    tried: (s, a: PayloadAction<Trial | null>) => ({ ...s, trial: a.payload }),
    elementChosen: (s, a: PayloadAction<string | null>) => ({ ...s, chosen: a.payload }),
  },
});
export const sessionReducer = slice.reducer;
export const { personChosen, elementChosen, tried } = slice.actions;
