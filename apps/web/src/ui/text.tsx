// Small things of running text.
import { Button, Text } from '@mantine/core';

/** What is said beside the thing itself. */
export const Soft = Text.withProps({ span: true, c: 'dimmed', inherit: true });
export const Small = Text.withProps({ span: true, c: 'dimmed', fz: 'xs' });
export const Wrongly = Text.withProps({ span: true, c: 'var(--wrong)', inherit: true });
export const Figure = Text.withProps({ span: true, ff: 'monospace', inherit: true });

/** A word that does something, where it stands. */
export const Act = Button.withProps({ variant: 'act', size: 'compact-sm' });

/** An upper-case first letter. */
export const sentence = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
