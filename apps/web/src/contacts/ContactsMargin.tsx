// What the list in the work adds up to: who of them may be mailed, and which tags they carry.
import type { Standing } from '@palabra/core/contacts';
import { count, Measure, Sum } from '../ui/numbers';
import { MarginPart } from '../ui/Page';
import { Ghost, Wrong } from '../ui/states';
import { Act, Figure } from '../ui/text';
import { useSummaryQuery, useTagsAmongQuery, useVocabularyQuery } from './contacts.api';
import { filterOf, placeText, type ListPlace } from './filter';

const TAGS_SHOWN = 10;

export function ContactsMargin({
  place,
  onTag,
}: {
  readonly place: ListPlace;
  readonly onTag: (id: number) => void;
}) {
  const filter = filterOf(place);
  const { currentData: sums, isError, error } = useSummaryQuery(filter);
  const { currentData: among } = useTagsAmongQuery(filter);
  const { data: vocabulary } = useVocabularyQuery();
  const tags = new Map(vocabulary?.tags.map((tag) => [tag.id, tag]));
  const to = (standing?: Standing): string => `/contacts${placeText({ ...place, standing })}`;
  return (
    <>
      <MarginPart title={sums ? `These ${count(sums.total)}` : 'These people'}>
        {isError && <Wrong error={error} />}
        {sums ? (
          <Sum
            label="Who of them may be mailed"
            lines={[
              { label: 'people', value: sums.total, to: to() },
              { label: 'no address', value: sums.noAddress, to: to('no address'), kind: 'less' },
              { label: 'do not mail', value: sums.doNotMail, to: to('do not mail'), kind: 'less' },
              {
                label: 'no permission',
                value: sums.noPermission,
                to: to('no permission'),
                kind: 'less',
              },
              {
                label: 'may be mailed',
                value: sums.mayBeMailed,
                to: to('may be mailed'),
                kind: 'total',
              },
            ]}
          />
        ) : (
          !isError && <Ghost lines={4} />
        )}
      </MarginPart>
      {among && among.length > 0 && sums && (
        <MarginPart title="Tags among them">
          {among.slice(0, TAGS_SHOWN).map(({ id, count: own }) => (
            <Measure
              key={id}
              label={tags.get(id)?.name ?? '…'}
              value={own}
              of={sums.total}
              number={
                <Act
                  data-ink
                  aria-label={`Narrow to the ${count(own)} with the tag ${tags.get(id)?.name ?? ''}`}
                  onClick={() => onTag(id)}
                >
                  <Figure>{count(own)}</Figure>
                </Act>
              }
            />
          ))}
        </MarginPart>
      )}
    </>
  );
}
