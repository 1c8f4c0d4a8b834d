import type { BlockOf } from '@palabra/core/letters';
import classes from '../letters.module.css';
import type { BodyProps } from './kind';

export function Divider({ disabled, onChoose }: BodyProps<BlockOf<'divider'>>) {
  return (
    <div tabIndex={disabled ? undefined : 0} role="img" aria-label="Divider" onFocus={onChoose}>
      <hr className={classes.divider} />
    </div>
  );
}
