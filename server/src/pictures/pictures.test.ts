import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import request from 'supertest';
import { harness, type Harness } from '../testing/harness.ts';

let h: Harness;
const ids = { id: randomUUID(), jobId: randomUUID() };
beforeAll(async () => {
  h = await harness();
  const body = { ...ids, name: 'Mill Lane 2', place: '', contact: '', notes: '' };
  await request(h.app).post('/api/households').send(body).expect(201);
});
afterAll(() => h.close());

const segment = (marker: number, content: Buffer): Buffer => {
  const head = Buffer.from([0xff, marker, 0, 0]);
  head.writeUInt16BE(content.length + 2, 2);
  return Buffer.concat([head, content]);
};
const jpeg = (...segments: Buffer[]): Buffer =>
  Buffer.concat([
    Buffer.from([0xff, 0xd8]),
    ...segments,
    segment(0xda, Buffer.alloc(8)),
    Buffer.from('picture'),
    Buffer.from([0xff, 0xd9]),
  ]);
const plain = jpeg(segment(0xe0, Buffer.from('JFIF\0')));
const put = (id: string, bytes: Buffer, job = ids.jobId): request.Test =>
  request(h.app).put(`/api/jobs/${job}/pictures/${id}`).type('image/jpeg').send(bytes);

describe('a picture of a job', () => {
  test('is kept once however often it is sent, and comes back as it was', async () => {
    const id = randomUUID();
    await put(id, plain).expect(201);
    await put(id, plain).expect(201);
    const back = await request(h.app).get(`/api/jobs/${ids.jobId}/pictures/${id}`).buffer(true).expect(200);
    expect(back.headers['content-type']).toBe('image/jpeg');
    expect((back.body as Buffer).equals(plain)).toBe(true);
    await put(id, jpeg(segment(0xe0, Buffer.from('other')))).expect(409);
  });
  test.each([
    ['Exif in a JPEG', jpeg(segment(0xe0, Buffer.from('JFIF\0')), segment(0xe1, Buffer.from('Exif\0\0GPS')))],
    ['Exif in a PNG', Buffer.concat([Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]), Buffer.from('....eXIf....')])],
    ['Exif in a WebP', Buffer.from('RIFF....WEBPVP8 ....EXIF....')],
  ])('that may tell where it was taken is refused: %s', async (_, bytes) => {
    const r = await put(randomUUID(), bytes).expect(422);
    expect(JSON.stringify(r.body)).toContain('where it was taken');
  });
  test('is a picture whatever it calls itself, of no more than it may be, of a job there is', async () => {
    await put(randomUUID(), Buffer.from('<svg onload="alert(1)"/>')).expect(415);
    await put(randomUUID(), Buffer.concat([plain, Buffer.alloc(3_100_000)])).expect(413);
    await put(randomUUID(), plain, randomUUID()).expect(404);
    await request(h.app).get(`/api/jobs/${ids.jobId}/pictures/${randomUUID()}`).expect(404);
    await request(h.app).get(`/api/jobs/${ids.jobId}/pictures/not-an-id`).expect(404);
  });
}); // oxfmt-ignore
