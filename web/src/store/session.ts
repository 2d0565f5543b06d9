import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import { z } from 'zod';

/** Who works on this device and what the hand is on. Sign-in comes later; the person's id is already in every write. */
export interface SessionState {
  readonly personId: string | null;
  /** element of the Line whose card is open */
  readonly chosen: string | null;
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
  initialState: (): SessionState => ({ personId: rememberedPerson(), chosen: null }),
  reducers: {
    personChosen: (s, a: PayloadAction<string>) => {
      try {
        localStorage.setItem(KEY, a.payload);
      } catch {
        // private windows: asked again next time
      }
      return { ...s, personId: a.payload };
    },
    elementChosen: (s, a: PayloadAction<string | null>) => ({ ...s, chosen: a.payload }),
  },
});
export const sessionReducer = slice.reducer;
export const { personChosen, elementChosen } = slice.actions;
