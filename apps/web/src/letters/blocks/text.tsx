import type { TextBlock } from '@palabra/core/letters';
import { TextEditor } from '../TextEditor';
import type { BodyProps } from './kind';

export function Text({ block, chosen, disabled, onChange }: BodyProps<TextBlock>) {
  return (
    <TextEditor
      label="Text"
      value={block.text}
      disabled={disabled}
      chosen={chosen}
      onChange={(text) => onChange({ ...block, text })}
    />
  );
}
