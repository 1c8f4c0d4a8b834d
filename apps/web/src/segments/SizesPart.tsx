// How large a segment was, day by day.
import { count, Spark } from '../ui/numbers';
import { MarginPart } from '../ui/Page';
import { Small, Soft } from '../ui/text';
import { longDate } from '../ui/time';
import { useSegmentSizesQuery } from './segments.api';

export function SizesPart({ id }: { readonly id: number }) {
  const { data } = useSegmentSizesQuery(id);
  const [first] = data ?? [];
  const last = data?.at(-1);
  if (!data || !first || !last) return null;
  const sizes = data.map(({ size }) => size);
  const [least, most] = [Math.min(...sizes), Math.max(...sizes)];
  return (
    <MarginPart title="Size over time">
      {data.length < 2 ? (
        <Soft>Counted once a day: {count(last.size)} today.</Soft>
      ) : (
        <>
          <Spark
            points={sizes}
            label={`From ${count(first.size)} on ${longDate(first.day)} to ${count(last.size)} on ${longDate(last.day)}`}
          />
          <Small>
            {longDate(first.day)}: {count(first.size)} · {longDate(last.day)}: {count(last.size)} ·
            between {count(least)} and {count(most)}
          </Small>
        </>
      )}
    </MarginPart>
  );
}
