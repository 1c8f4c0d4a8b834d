// Who is in another segment.
import {
  segmentOperators,
  type SegmentCondition,
  type SegmentOperator,
} from '@palabra/core/segments';
import { Link } from 'react-router';
import { Finder } from '../../ui/Finder';
import { Pick } from '../../ui/Pick';
import type { EditorOf } from './kind';

export const segment: EditorOf<SegmentCondition> = {
  choices: ({ segments }) => (segments.length > 0 ? [{ value: 'segment', label: 'segment' }] : []),
  chosen: () => 'segment',
  begin: (choice) => (choice === 'segment' ? { kind: 'segment', op: 'is in' } : undefined),
  Operand: ({ condition, context: { segments }, disabled, onChange }) => {
    const chosen = segments.find(({ id }) => id === condition.segment);
    return (
      <>
        <Pick<SegmentOperator>
          label="How the segment is asked for"
          disabled={disabled}
          value={condition.op}
          options={segmentOperators.map((value) => ({ value, label: value }))}
          onChange={(op) => op && onChange({ ...condition, op })}
        />
        <Finder
          words={chosen?.name ?? 'choose a segment'}
          name={`Segment: ${chosen?.name ?? 'none yet'}`}
          label="Find a segment"
          placeholder="find a segment"
          none="No other segment of that name."
          disabled={disabled}
          options={segments.map(({ id, name, kind }) => ({
            key: String(id),
            text: name,
            note: kind,
          }))}
          button={{ 'data-ink': true }}
          onPick={({ key }) => onChange({ ...condition, segment: Number(key) })}
        />
        {chosen && (
          <Link to={`/segments/${chosen.id}`} aria-label={`Open ${chosen.name}`}>
            open
          </Link>
        )}
      </>
    );
  },
};
