import type { ButtonBlock } from '@palabra/core/letters';
import classes from '../letters.module.css';
import { LineEditor } from '../TextEditor';
import { Href } from './Href';
import type { BodyProps } from './kind';

export function Button({ block, chosen, disabled, onChange }: BodyProps<ButtonBlock>) {
  return (
    <>
      <div className={classes.buttonRow}>
        <div>
          <LineEditor
            label="Words on the button"
            className={classes.button}
            value={block.label}
            disabled={disabled}
            tools="none"
            onChange={(label) => onChange({ ...block, label })}
          />
        </div>
      </div>
      {chosen && (
        <div className={classes.settings}>
          <Href
            value={block.href}
            disabled={disabled}
            onChange={(href) => onChange({ ...block, href })}
          />
        </div>
      )}
    </>
  );
}
