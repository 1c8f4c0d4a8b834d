// One way to do something: waits for the answer, shows a refusal, and says what was done with a way back.
import { notifications } from '@mantine/notifications';
import { type ReactNode } from 'react';
import { problemOf } from '../api/problems';
import { Act } from './text';

const LONG_MS = 20_000;
let last: string | undefined;

/** Takes the place of what was told before: the latest thing done can be taken back from here. */
export function tell(message: ReactNode, kind: 'plain' | 'good' | 'wrong' = 'plain'): void {
  if (last !== undefined) notifications.hide(last);
  last = notifications.show({
    message,
    autoClose: kind === 'wrong' ? false : LONG_MS,
    role: kind === 'wrong' ? 'alert' : 'status',
    withBorder: true,
    closeButtonProps: { 'aria-label': 'Put away' },
    ...{ 'data-kind': kind },
  });
}

export interface Command<R> {
  readonly run: () => Promise<R>;
  /** Said once it is done. */
  readonly says?: (result: R) => ReactNode;
  /** Takes it back; offered with what is said. */
  readonly undo?: (result: R) => Promise<unknown>;
}

/** Resolves with the result, or with undefined when it was refused, which was told. */
export async function command<R>({ run, says, undo }: Command<R>): Promise<R | undefined> {
  try {
    const result = await run();
    if (says)
      tell(
        <>
          {says(result)}{' '}
          {undo && (
            <Act
              onClick={() => void command({ run: () => undo(result), says: () => 'Taken back.' })}
            >
              Undo
            </Act>
          )}
        </>,
      );
    return result;
  } catch (error) {
    tell(problemOf(error).detail, 'wrong');
    return undefined;
  }
}
