import { lineText, type Line } from '@palabra/core/letters';
import { useVocabularyQuery } from '../contacts/contacts.api';

export const fieldWords = (label: string, fallback: string): string =>
  fallback ? `${label}, or “${fallback}”` : label;

/** A line as it is written, personal fields as chips. */
export function LinePreview({ line, empty }: { readonly line: Line; readonly empty: string }) {
  const { data } = useVocabularyQuery();
  if (line.length === 0 || lineText(line) === '') {
    const onlyFields = line.some((part) => typeof part !== 'string');
    if (!onlyFields) return <span className="soft">{empty}</span>;
  }
  return (
    <>
      {line.map((part, at) =>
        typeof part === 'string' ? (
          <span key={at}>{part}</span>
        ) : (
          <span key={at} className="field-chip" style={{ cursor: 'default' }}>
            {fieldWords(
              data?.fields.find(({ key }) => key === part.field)?.label ?? 'a field that is gone',
              part.fallback,
            )}
          </span>
        ),
      )}
    </>
  );
}
