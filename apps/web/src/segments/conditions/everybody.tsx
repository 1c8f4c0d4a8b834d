import type { EverybodyCondition } from '@palabra/core/segments';
import type { EditorOf } from './kind';

export const everybody: EditorOf<EverybodyCondition> = {
  choices: () => [{ value: 'everybody', label: 'everybody in the pool' }],
  chosen: () => 'everybody',
  begin: (choice) => (choice === 'everybody' ? { kind: 'everybody' } : undefined),
  Operand: () => null,
};
