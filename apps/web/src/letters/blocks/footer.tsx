import type { FooterBlock } from '@palabra/core/letters';
import { useOffice } from '../../office/OfficeContext';
import type { BodyProps } from './kind';

export function Footer({ block, disabled, onChange }: BodyProps<FooterBlock>) {
  const { office } = useOffice();
  return (
    <div className="letter-footer">
      <b>{office.name}</b>
      {'\n'}
      {office.postalAddress || (
        <span className="wrong">
          The office has no postal address yet; fill it in under Settings.
        </span>
      )}
      {'\n'}
      <input
        className="line-input"
        style={{ width: '100%', fontSize: 13, color: 'var(--soft)', margin: '6px 0' }}
        aria-label="Why the letter arrives"
        maxLength={500}
        disabled={disabled}
        value={block.reason}
        onChange={(event) => onChange({ ...block, reason: event.currentTarget.value })}
      />
      {'\n'}
      <u>Leave these letters</u>
    </div>
  );
}
