import { createApi, type BaseQueryFn } from '@reduxjs/toolkit/query/react';
import { askWorker, type Questions } from './coreWorkers.ts';

/** A question to the computation; `asked` is its arguments as JSON, by which its answer is remembered. */
export interface Question {
  readonly name: keyof Questions;
  readonly asked: string;
}

/** How long an answer nobody looks at is remembered, s: long enough to come back to a figure that was tried. */
const REMEMBERED_S = 30;

const worker: BaseQueryFn<Question, unknown, string> = async ({ name, asked }) => {
  try {
    const answer = await askWorker(name, JSON.parse(asked) as never);
    // a frozen answer is taken into the store as it is, not walked through
    return { data: Object.freeze(answer) };
  } catch (e) {
    return { error: e instanceof Error ? e.message : 'It could not be worked out.' };
  }
};

/** What the core answered, asked of the workers as what the server knows is asked of the server. */
export const coreApi = createApi({
  reducerPath: 'core',
  baseQuery: worker,
  keepUnusedDataFor: REMEMBERED_S,
  endpoints: (b) => ({
    answer: b.query<unknown, Question>({
      query: (question) => question,
      serializeQueryArgs: ({ queryArgs }) => `${queryArgs.name}${queryArgs.asked}`,
      structuralSharing: false,
    }),
  }),
});
