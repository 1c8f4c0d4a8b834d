import type { Line } from '@palabra/core/letters';
import { lineText } from '@palabra/core/letters';
import { useVocabularyQuery } from '../contacts';
import { Soft } from '../ui/text';
import { FieldChip, fieldWords } from './FieldChip';

/** A line as it is written, personal fields as chips. */
export function LinePreview({ line, empty }: { readonly line: Line; readonly empty: string }) {
  const { data } = useVocabularyQuery();
  const isEmpty = lineText(line) === '' && line.every((part) => typeof part === 'string');
  if (isEmpty) return <Soft>{empty}</Soft>;
  return (
    <>
      {line.map((part, at) =>
        typeof part === 'string' ? (
          <span key={at}>{part}</span>
        ) : (
          <FieldChip key={at}>
            {fieldWords(
              data?.fields.find(({ key }) => key === part.field)?.label ?? 'a field that is gone',
              part.fallback,
            )}
          </FieldChip>
        ),
      )}
    </>
  );
}

/** A subject in a list: short, personal fields marked by their name. */
export function LineText({ line }: { readonly line: Line }) {
  const { data } = useVocabularyQuery();
  return (
    <>
      {line.map((part, at) =>
        typeof part === 'string' ? (
          part
        ) : (
          <FieldChip key={at}>
            {data?.fields.find(({ key }) => key === part.field)?.label ?? 'a field that is gone'}
          </FieldChip>
        ),
      )}
    </>
  );
}
