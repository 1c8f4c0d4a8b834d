import { Textarea } from '@mantine/core';
import type { FooterBlock } from '@palabra/core/letters';
import { useOffice } from '../../office';
import { Wrongly } from '../../ui/text';
import classes from '../letters.module.css';
import type { BodyProps } from './kind';

export function Footer({ block, disabled, onChange }: BodyProps<FooterBlock>) {
  const { office } = useOffice();
  return (
    <div className={classes.footer}>
      <b>{office.name}</b>
      {'\n'}
      {office.postalAddress || (
        <Wrongly>The office has no postal address yet; fill it in under Settings.</Wrongly>
      )}
      <Textarea
        variant="line"
        size="xs"
        my={6}
        autosize
        aria-label="Why the letter arrives"
        maxLength={500}
        disabled={disabled}
        value={block.reason}
        onChange={(event) =>
          onChange({ ...block, reason: event.currentTarget.value.replace(/\n/g, ' ') })
        }
      />
      <u>Leave these letters</u>
    </div>
  );
}
