import { createSlice, type PayloadAction, type ThunkAction, type UnknownAction } from '@reduxjs/toolkit';

/** Whether a newer version of the application lies ready on this device. */
export interface ReleaseState {
  readonly waits: boolean;
  /** other pages of it that are open, and hold it back; null until it was asked to take over */
  readonly others: number | null;
}
const initialState: ReleaseState = { waits: false, others: null };
const slice = createSlice({
  name: 'release',
  initialState,
  reducers: {
    came: (): ReleaseState => ({ waits: true, others: null }),
    heldBack: (s, a: PayloadAction<number>): ReleaseState => ({ ...s, others: a.payload }),
  },
});
export const releaseReducer = slice.reducer;

type Thunk<R> = ThunkAction<R, { readonly release: ReleaseState }, unknown, UnknownAction>;

/** How often an open page looks for a newer version, ms. */
const LOOK_MS = 3_600_000;

/**
 * Keeps the application on this device, so that it opens without signal, and tells when a newer version lies ready. What is
 * open goes on with the version it began with.
 */
export const keepApplication = (): Thunk<Promise<void>> => async (dispatch) => {
  if (!('serviceWorker' in navigator)) return;
  const { Workbox } = await import('workbox-window');
  const worker = new Workbox('/serviceWorker.js');
  worker.addEventListener('waiting', () => {
    dispatch(slice.actions.came());
  });
  await worker.register();
  setInterval(() => void worker.update().catch(() => undefined), LOOK_MS);
};

/** Has the newer version take over, where no other page of the application is open. The page is opened anew by it. */
export const takeOver = (): Thunk<Promise<void>> => async (dispatch) => {
  const waiting = (await navigator.serviceWorker.getRegistration())?.waiting;
  if (!waiting) {
    location.reload();
    return;
  }
  const { messageSW } = await import('workbox-window');
  navigator.serviceWorker.addEventListener('controllerchange', () => {
    location.reload();
  });
  const others = (await messageSW(waiting, { type: 'take-over' })) as number;
  if (others > 0) dispatch(slice.actions.heldBack(others));
};
