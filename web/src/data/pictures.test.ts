import { Blob as NodeBlob } from 'node:buffer';
import { beforeAll, describe, expect, test } from '@jest/globals';
import { dropPicture, keepPicture, pictureAddress, restorePictures, sendPictures } from './pictures.ts';
import { makeStore } from './store.ts';

const JOB = '5f0c4b1e-1111-4111-a111-000000000001';
let serial = 0;
const picture = () => ({
  id: `5f0c4b1e-3333-4333-a333-${String(++serial).padStart(12, '0')}`,
  jobId: JOB,
  by: '5f0c4b1e-2222-4222-a222-000000000002',
});
// the test's store copies this one as a browser's copies its own
const blob = new NodeBlob(['picture'], { type: 'image/jpeg' }) as unknown as Blob;
/** Answers every picture by a status, or not at all; gives what was asked. */
function server(status: number | 'away'): string[] {
  const asked: string[] = [];
  globalThis.fetch = ((url: string) => {
    if (status === 'away') return Promise.reject(new TypeError('failed to fetch'));
    asked.push(url);
    const body = status < 300 ? {} : { type: 'urn:x', title: 'Only pictures are kept here', status };
    return Promise.resolve(new Response(JSON.stringify(body), { status }));
  }) as unknown as typeof fetch;
  return asked;
}
beforeAll(() => {
  let n = 0;
  URL.createObjectURL = () => `blob:${String(++n)}`;
});

describe('a picture', () => {
  test('waits without a signal, is shown from this device, survives the page and is sent once', async () => {
    server('away');
    const p = picture();
    const store = makeStore();
    await store.dispatch(keepPicture(p, blob));
    expect(store.getState().pictures.waiting).toEqual([p]);
    expect(pictureAddress(JOB, p.id)).toMatch(/^blob:/);
    const next = makeStore();
    const asked = server(201);
    await next.dispatch(restorePictures());
    expect(asked).toEqual([`/api/jobs/${JOB}/pictures/${p.id}`]);
    expect(next.getState().pictures.waiting).toEqual([]);
    const third = makeStore();
    await third.dispatch(restorePictures());
    expect(asked).toHaveLength(1);
  });
  test('of a job that waits itself waits with it; one that is refused holds no other back, and stays until it is dropped', async () => {
    const store = makeStore();
    server(404);
    const early = picture();
    await store.dispatch(keepPicture(early, blob));
    expect(store.getState().pictures.waiting).toEqual([early]);
    server(415);
    await store.dispatch(sendPictures());
    expect(store.getState().pictures.waiting).toEqual([{ ...early, refused: 'Only pictures are kept here.' }]);
    const asked = server(201);
    const good = picture();
    await store.dispatch(keepPicture(good, blob));
    expect(asked).toHaveLength(1);
    const next = makeStore();
    await next.dispatch(restorePictures());
    expect(next.getState().pictures.waiting).toMatchObject([{ id: early.id, refused: 'Only pictures are kept here.' }]);
    await next.dispatch(dropPicture(early.id));
    expect(next.getState().pictures.waiting).toEqual([]);
  });
}); // oxfmt-ignore
