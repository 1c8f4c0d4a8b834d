import type { HeadingBlock } from '@palabra/core/letters';
import { LineEditor } from '../TextEditor';
import type { BodyProps } from './kind';

export function Heading({ block, chosen, disabled, onChange }: BodyProps<HeadingBlock>) {
  return (
    <LineEditor
      label="Heading"
      className="letter-heading"
      value={block.text}
      disabled={disabled}
      tools={chosen ? 'settings' : 'none'}
      onChange={(text) => onChange({ ...block, text })}
    />
  );
}
