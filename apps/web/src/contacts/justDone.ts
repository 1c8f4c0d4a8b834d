// What was just done and can be taken back, shown in the margin until something else is done.
import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

export interface JustDone {
  readonly text: string;
  /** The change set that Undo takes back; absent when it was one itself. */
  readonly changeSet?: number;
  readonly people?: string;
}

export const justDone = createSlice({
  name: 'justDone',
  initialState: { done: undefined as JustDone | undefined },
  reducers: {
    did: (state, action: PayloadAction<JustDone>) => {
      state.done = action.payload;
    },
  },
});

export const { did } = justDone.actions;
