import { configureStore } from '@reduxjs/toolkit';
import { setupListeners } from '@reduxjs/toolkit/query';
import { useDispatch, useSelector, useStore } from 'react-redux';
import { outboxReducer } from './outbox/outbox.ts';
import { picturesReducer } from './pictures.ts';
import { sessionReducer } from './session.ts';
import { api } from './api.ts';

export function makeStore() {
  const store = configureStore({
    reducer: {
      [api.reducerPath]: api.reducer,
      outbox: outboxReducer,
      pictures: picturesReducer,
      session: sessionReducer,
    },
    middleware: (d) => d().concat(api.middleware),
  });
  setupListeners(store.dispatch);
  return store;
}
export type AppStore = ReturnType<typeof makeStore>;
export type RootState = ReturnType<AppStore['getState']>;
export const useAppDispatch = useDispatch.withTypes<AppStore['dispatch']>();
export const useAppSelector = useSelector.withTypes<RootState>();
export const useAppStore = useStore.withTypes<AppStore>();
