// What the checks say of a sheet, and the way to what each of them is about.
import type { CheckResult, Place } from '@palabra/core/letters';
import { useNavigate } from 'react-router';
import { Mark, Marks } from '../ui/Marks';
import { MarginPart } from '../ui/Page';
import { Act, Soft } from '../ui/text';

export function ChecksPart({
  checks,
  letterId,
}: {
  readonly checks: readonly CheckResult[];
  readonly letterId: number | null;
}) {
  const passed = checks.filter(({ level }) => level === 'passed');
  return (
    <MarginPart title="Checks" aside={`${passed.length} of ${checks.length}`}>
      <Marks>
        {checks
          .filter(({ level }) => level !== 'passed')
          .map((check, at) => {
            const isStop = check.level === 'stop';
            return (
              <Mark
                key={at}
                kind={isStop ? 'stop' : 'caution'}
                means={isStop ? 'stops the send' : 'a caution'}
              >
                {check.text} {check.place && <GoThere place={check.place} letterId={letterId} />}
              </Mark>
            );
          })}
        {passed.length > 0 && (
          <Mark kind="good" means="passed">
            <Soft>{passed.map(({ text }) => text).join(', ')}</Soft>
          </Mark>
        )}
      </Marks>
    </MarginPart>
  );
}

const inLetter = new Set(['letter', 'subject', 'preview']);
const inSheet = new Set(['who', 'from', 'when']);

function GoThere({ place, letterId }: { readonly place: Place; readonly letterId: number | null }) {
  const navigate = useNavigate();
  const go = (): void => {
    if (place.at === 'settings') return void navigate('/settings');
    if (letterId !== null && inLetter.has(place.at))
      return void navigate(`/letters/${letterId}?at=${place.block ?? place.at}`);
    const part = document.getElementById(inSheet.has(place.at) ? place.at : 'what');
    part?.scrollIntoView({ block: 'center' });
    part?.querySelector<HTMLElement>('button, input')?.focus();
  };
  return <Act onClick={go}>Go there</Act>;
}
