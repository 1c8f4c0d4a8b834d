import { configureStore } from '@reduxjs/toolkit';
import { justDone } from '../contacts/justDone';
import { api } from './api';

export const store = configureStore({
  reducer: { [api.reducerPath]: api.reducer, justDone: justDone.reducer },
  middleware: (defaults) => defaults().concat(api.middleware),
});

export type RootState = ReturnType<typeof store.getState>;
