import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

/** What of this page is as this device kept it, and which jobs it keeps. */
export interface KeptState {
  /** paths that were answered from this device, with when the server said so, ms since 1970 */
  readonly shown: Readonly<Record<string, number>>;
  /** jobs on this device by their id, with whether somebody chose them */
  readonly jobs: Readonly<Record<string, { readonly chosen: boolean; readonly heardMs: number }>>;
}
const initialState: KeptState = { shown: {}, jobs: {} };

const slice = createSlice({
  name: 'kept',
  initialState,
  reducers: {
    /** a path was answered from this device */
    shownFromHere: (s, a: PayloadAction<{ path: string; heardMs: number }>): KeptState => ({
      ...s,
      shown: { ...s.shown, [a.payload.path]: a.payload.heardMs },
    }),
    /** the server itself answered a path */
    heard: (s, a: PayloadAction<string>): KeptState => {
      if (!(a.payload in s.shown)) return s;
      return { ...s, shown: Object.fromEntries(Object.entries(s.shown).filter(([path]) => path !== a.payload)) };
    },
    counted: (s, a: PayloadAction<KeptState['jobs']>): KeptState => ({ ...s, jobs: a.payload }),
  },
});
interface HasKept {
  readonly kept: KeptState;
}
/** Whether anything on the page is as this device kept it, because the server is away. */
export const selectIsAway = ({ kept }: HasKept): boolean => Object.keys(kept.shown).length > 0;

export const keptReducer = slice.reducer;
export const { shownFromHere, heard, counted } = slice.actions;
