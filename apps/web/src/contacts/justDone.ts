// What was just done and can be taken back, shown in the margin until something else is done.
import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

/** A change that is being followed, or a sentence. */
export type JustDone =
  | {
      readonly changeSet: number;
      /** People meant who needed no change. */ readonly meant?: number;
    }
  | { readonly text: string };

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
