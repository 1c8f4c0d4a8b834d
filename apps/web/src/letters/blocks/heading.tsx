import type { HeadingBlock } from '@palabra/core/letters';
import classes from '../letters.module.css';
import { LineEditor } from '../TextEditor';
import type { BodyProps } from './kind';

export function Heading({ block, chosen, disabled, onChange }: BodyProps<HeadingBlock>) {
  return (
    <LineEditor
      label="Heading"
      className={classes.heading}
      value={block.text}
      disabled={disabled}
      tools={chosen ? 'settings' : 'none'}
      onChange={(text) => onChange({ ...block, text })}
    />
  );
}
