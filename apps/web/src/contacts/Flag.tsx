import { CloseButton } from '@mantine/core';
import type { TagColour } from '@palabra/core/contacts';
import type { ReactNode } from 'react';
import classes from './Flag.module.css';

/** A tag: its colour on the leading edge, its word in dark text. An automatic one has dots for a colour. */
export function Flag({
  name,
  colour,
  kind = 'office',
  purpose,
  onTakeOff,
}: {
  readonly name: string;
  readonly colour: TagColour;
  readonly kind?: 'office' | 'automatic';
  /** Said when one points at it. */
  readonly purpose?: string;
  readonly onTakeOff?: () => void;
}) {
  return (
    <span
      className={`${classes.flag} ${kind === 'automatic' ? classes.automatic : ''}`}
      style={{ '--flag': `var(--tag-${colour})` }}
      title={purpose ? `${name}: ${purpose}` : name}
    >
      <span>{name}</span>
      {onTakeOff && (
        <CloseButton
          size={24}
          iconSize={13}
          className={classes.off}
          aria-label={`Take the tag ${name} off`}
          onClick={onTakeOff}
        />
      )}
    </span>
  );
}

/** Flags in a row; in a table on one line, elsewhere on as many as they need. */
export function Flags({
  wrap,
  children,
}: {
  readonly wrap?: boolean;
  readonly children: ReactNode;
}) {
  return <span className={`${classes.flags} ${wrap ? classes.wrap : ''}`}>{children}</span>;
}
