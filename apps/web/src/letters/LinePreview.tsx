import type { Line } from '@palabra/core/letters';
import { lineText } from '@palabra/core/letters';
import { useVocabularyQuery } from '../contacts';
import { Soft } from '../ui/text';
import { FieldChip, fieldWords } from './FieldChip';

/** What a field is called; nothing is said to be gone before the fields are here. */
function useLabels(): (field: string) => string {
  const { data } = useVocabularyQuery();
  return (field) =>
    data ? (data.fields.find(({ key }) => key === field)?.label ?? 'a field that is gone') : '…';
}

/** A line as it is written, personal fields as chips. */
export function LinePreview({ line, empty }: { readonly line: Line; readonly empty: string }) {
  const labelOf = useLabels();
  const isEmpty = lineText(line) === '' && line.every((part) => typeof part === 'string');
  if (isEmpty) return <Soft>{empty}</Soft>;
  return (
    <>
      {line.map((part, at) =>
        typeof part === 'string' ? (
          <span key={at}>{part}</span>
        ) : (
          <FieldChip key={at}>{fieldWords(labelOf(part.field), part.fallback)}</FieldChip>
        ),
      )}
    </>
  );
}

/** A subject in a list: short, personal fields marked by their name. */
export function LineText({ line }: { readonly line: Line }) {
  const labelOf = useLabels();
  return (
    <>
      {line.map((part, at) =>
        typeof part === 'string' ? part : <FieldChip key={at}>{labelOf(part.field)}</FieldChip>,
      )}
    </>
  );
}
