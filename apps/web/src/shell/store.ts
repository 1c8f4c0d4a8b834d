import { configureStore } from '@reduxjs/toolkit';
import { setupListeners } from '@reduxjs/toolkit/query';
import { server } from '../api/server';

export const store = configureStore({
  reducer: { [server.reducerPath]: server.reducer },
  middleware: (defaults) => defaults().concat(server.middleware),
});

// Whether the window is looked at, and the server can be reached.
setupListeners(store.dispatch);
