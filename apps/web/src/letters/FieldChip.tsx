import type { ReactNode } from 'react';
import classes from './letters.module.css';

export const fieldWords = (label: string, fallback: string): string =>
  fallback ? `${label}, or “${fallback}”` : label;

/** What a personal field looks like among words; the editor draws it with this class, too. */
export const chipClass = classes.fieldChip ?? '';

export function FieldChip({ children }: { readonly children: ReactNode }) {
  return <span className={chipClass}>{children}</span>;
}
