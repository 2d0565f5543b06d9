import { configureStore } from '@reduxjs/toolkit';
import { setupListeners } from '@reduxjs/toolkit/query';
import { useDispatch, useSelector, useStore } from 'react-redux';
import { outboxReducer } from './outbox/state.ts';
import { keptReducer } from './kept/state.ts';
import { picturesReducer } from './pictures.ts';
import { releaseReducer } from './release.ts';
import { sessionReducer } from './session.ts';
import { api } from './api.ts';
import { coreApi } from './coreApi.ts';

export function makeStore() {
  const unwalked = { ignoredPaths: [coreApi.reducerPath] };
  const store = configureStore({
    reducer: {
      [api.reducerPath]: api.reducer,
      [coreApi.reducerPath]: coreApi.reducer,
      outbox: outboxReducer,
      kept: keptReducer,
      pictures: picturesReducer,
      release: releaseReducer,
      session: sessionReducer,
    },
    middleware: (d) =>
      d({
        // answers are large, and frozen: the checks of a page under development would walk them at every action
        immutableCheck: unwalked,
        serializableCheck: { ...unwalked, ignoredActionPaths: ['payload', 'meta.arg', 'meta.baseQueryMeta'] },
      }).concat(api.middleware, coreApi.middleware),
    // an answer is on the page with the next tick, not with the next picture
    enhancers: (d) => d({ autoBatch: { type: 'tick' } }),
  });
  setupListeners(store.dispatch);
  return store;
}
export type AppStore = ReturnType<typeof makeStore>;
export type AppDispatch = AppStore['dispatch'];
export type RootState = ReturnType<AppStore['getState']>;
export const useAppDispatch = useDispatch.withTypes<AppDispatch>();
export const useAppSelector = useSelector.withTypes<RootState>();
export const useAppStore = useStore.withTypes<AppStore>();
