import { configureStore } from '@reduxjs/toolkit';
import { server } from '../api/server';

export const store = configureStore({
  reducer: { [server.reducerPath]: server.reducer },
  middleware: (defaults) => defaults().concat(server.middleware),
});
