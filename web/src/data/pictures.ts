import { createSlice, type PayloadAction, type ThunkAction, type UnknownAction } from '@reduxjs/toolkit';
import { openDB, type IDBPDatabase } from 'idb';
import { errorWords } from './errors.ts';
import { inTurn, tellOthers, whenOthersTell } from './outbox/tabs.ts';
import { asPerson, type SessionState } from './session.ts';

/** A picture born on this device that the server does not have yet. */
interface Waiting {
  readonly id: string;
  readonly jobId: string;
  readonly by: string;
  /** why the server would not take it; it stays until somebody drops it */
  readonly refused?: string;
}
interface Row extends Waiting {
  readonly blob: Blob;
}

/** Pictures have a store and a queue of their own: they are large, and nothing else waits behind them. */
export interface PicturesState {
  readonly waiting: readonly Waiting[];
}
const initialState: PicturesState = { waiting: [] };
const slice = createSlice({
  name: 'pictures',
  initialState,
  reducers: {
    held: (s, a: PayloadAction<Waiting[]>): PicturesState => ({
      waiting: [...s.waiting.filter((w) => !a.payload.some((x) => x.id === w.id)), ...a.payload],
    }),
    /** what the device has, whichever tab took it in or sent it */
    mirrored: (_s, a: PayloadAction<Waiting[]>): PicturesState => ({ waiting: a.payload }),
    gone: (s, a: PayloadAction<string>): PicturesState => ({ waiting: s.waiting.filter((w) => w.id !== a.payload) }),
  },
});
export const picturesReducer = slice.reducer;

interface HasPictures {
  readonly pictures: PicturesState;
  readonly session: SessionState;
}
type Thunk<R> = ThunkAction<R, HasPictures, unknown, UnknownAction>;

let opened: Promise<IDBPDatabase> | undefined;
const db = (): Promise<IDBPDatabase> =>
  (opened ??= openDB('katharos-pictures', 1, {
    upgrade: (d) => {
      d.createObjectStore('waiting', { keyPath: 'id' });
    },
  }));

/** What waits, as the page shows it, by its id. */
const shown = new Map<string, string>();

/** Address a picture is shown from: this device's own while it waits, else the server's. */
export const pictureAddress = (jobId: string, id: string): string =>
  shown.get(id) ?? `/api/jobs/${jobId}/pictures/${id}`;

/** Longest side of a picture that is kept, px: a serial number on a label still reads. */
const LONGEST_PX = 1600;

/**
 * Draws a picture anew, no larger than it need be: what the camera noted beside it, the place too, stays behind.
 * @throws where the browser cannot read it as a picture
 */
export async function shrink(file: Blob): Promise<Blob> {
  const image = await createImageBitmap(file, { imageOrientation: 'from-image' });
  const share = Math.min(1, LONGEST_PX / Math.max(image.width, image.height));
  const canvas = document.createElement('canvas');
  canvas.width = Math.max(1, Math.round(image.width * share));
  canvas.height = Math.max(1, Math.round(image.height * share));
  canvas.getContext('2d')?.drawImage(image, 0, 0, canvas.width, canvas.height);
  image.close();
  return new Promise((resolve, reject) => {
    canvas.toBlob(
      (b) => {
        if (b) resolve(b);
        else reject(new Error('The picture could not be drawn.'));
      },
      'image/jpeg',
      0.82,
    );
  });
}

/** Takes a picture in: shown at once, kept on this device, then sent. @throws where it has no room for it */
export const keepPicture =
  (picture: Waiting, blob: Blob): Thunk<Promise<void>> =>
  async (dispatch) => {
    await (await db()).put('waiting', { ...picture, blob } satisfies Row);
    shown.set(picture.id, URL.createObjectURL(blob));
    dispatch(slice.actions.held([picture]));
    tellOthers({ kind: 'pictures' });
    await dispatch(sendPictures());
  };

/** Reads what the device has, whichever tab took it in. */
const mirror = (): Thunk<Promise<void>> => async (dispatch) => {
  const rows = (await (await db()).getAll('waiting')) as Row[];
  for (const { id, blob } of rows) if (!shown.has(id)) shown.set(id, URL.createObjectURL(blob));
  const waiting = rows.map(({ id, jobId, by, refused }) => ({
    id,
    jobId,
    by,
    ...(refused === undefined ? {} : { refused }),
  }));
  dispatch(slice.actions.mirrored(waiting));
};

/** Brings back what an earlier page left, and hears of other tabs what they take in and send. */
export const restorePictures = (): Thunk<Promise<void>> => async (dispatch) => {
  whenOthersTell((news) => {
    if (news.kind === 'pictures') void dispatch(mirror()).catch(() => undefined);
  });
  await dispatch(mirror());
  await dispatch(sendPictures());
};

/** Drops a refused picture for good, as a person decided. */
export const dropPicture =
  (id: string): Thunk<Promise<void>> =>
  async (dispatch) => {
    await (await db()).delete('waiting', id);
    dispatch(slice.actions.gone(id));
    tellOthers({ kind: 'pictures' });
  };

const RETRY_MS = 10_000;
let sending = false;
let retry: ReturnType<typeof setTimeout> | undefined;

/** Sends what waits, one after the other and from one tab at a time; comes back by itself while the server is away. */
export const sendPictures = (): Thunk<Promise<void>> => async (dispatch, getState) => {
  if (sending || getState().pictures.waiting.every((w) => w.refused !== undefined)) return;
  sending = true;
  const work = async (): Promise<void> => {
    // another tab may have sent them meanwhile
    await dispatch(mirror());
    for (;;) {
      const { pictures, session } = getState();
      const isHere = (by: string): boolean => session.door === 'asking' || session.here.some((p) => p.id === by);
      const next = pictures.waiting.find((w) => w.refused === undefined && isHere(w.by));
      if (!next) return;
      const row = (await (await db()).get('waiting', next.id)) as Row | undefined;
      const answer = row ? await put(row) : 'sent';
      if (answer === 'away') {
        clearTimeout(retry);
        retry = setTimeout(() => void dispatch(sendPictures()), RETRY_MS);
        return;
      }
      if (answer === 'sent') {
        await (await db()).delete('waiting', next.id);
        dispatch(slice.actions.gone(next.id));
        tellOthers({ kind: 'pictures' });
      } else if (row) {
        const refused = { ...next, refused: answer.refused };
        await (await db()).put('waiting', { ...row, refused: answer.refused });
        dispatch(slice.actions.held([refused]));
        tellOthers({ kind: 'pictures' });
      }
    }
  };
  try {
    await inTurn(work, 'katharos-pictures');
  } finally {
    sending = false;
  }
};

/** What the server says of a picture itself; any other answer is about the moment. */
const REFUSALS: ReadonlySet<number> = new Set([400, 409, 413, 415, 422]);

async function put({ id, jobId, by, blob }: Row): Promise<'sent' | 'away' | { readonly refused: string }> {
  try {
    const res = await fetch(`/api/jobs/${jobId}/pictures/${id}`, {
      method: 'PUT',
      headers: { 'content-type': blob.type, ...asPerson(by) },
      body: blob,
      signal: AbortSignal.timeout(60_000),
    });
    if (res.ok) return 'sent';
    // a job that waits itself is not there yet: 404 is about the moment
    return REFUSALS.has(res.status) ? { refused: errorWords({ data: await res.text() }) } : 'away';
  } catch {
    return 'away';
  }
}
