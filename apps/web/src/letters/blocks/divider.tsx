import type { BlockOf } from '@palabra/core/letters';
import type { BodyProps } from './kind';

export function Divider({ disabled, onChoose }: BodyProps<BlockOf<'divider'>>) {
  return (
    <div tabIndex={disabled ? undefined : 0} role="img" aria-label="Divider" onFocus={onChoose}>
      <hr style={{ border: 0, borderTop: '1px solid var(--hair)', margin: '10px 0' }} />
    </div>
  );
}
