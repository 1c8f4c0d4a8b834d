import type { ButtonBlock } from '@palabra/core/letters';
import { LineEditor } from '../TextEditor';
import { Href } from './Href';
import type { BodyProps } from './kind';

export function Button({ block, chosen, disabled, onChange }: BodyProps<ButtonBlock>) {
  return (
    <>
      <div style={{ display: 'flex', justifyContent: 'center', padding: '4px 0' }}>
        <LineEditor
          label="Words on the button"
          className="letter-button"
          value={block.label}
          disabled={disabled}
          tools="none"
          onChange={(label) => onChange({ ...block, label })}
        />
      </div>
      {chosen && (
        <div className="block-settings">
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
