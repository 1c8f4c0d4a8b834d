// Beside a letter: what its checks say, how it looks in an inbox, and which campaigns send it.
import type { LetterReply } from '@palabra/contract/letters';
import { checkLetter, lineText, type CheckResult, type LetterContent } from '@palabra/core/letters';
import { useVocabularyQuery } from '../contacts';
import { useOffice } from '../office';
import { Mark, Marks } from '../ui/Marks';
import { MarginPart } from '../ui/Page';
import { Act, Soft } from '../ui/text';
import { clock } from '../ui/time';
import { Uses } from '../ui/Uses';
import classes from './letters.module.css';

interface LetterMarginProps {
  readonly letter: LetterReply;
  readonly content: LetterContent;
  readonly onGo: (block: string) => void;
}

const placeOf = ({ place }: CheckResult): string | undefined =>
  place?.block ?? (place?.at === 'subject' || place?.at === 'preview' ? place.at : undefined);

export function LetterMargin({ letter, content, onGo }: LetterMarginProps) {
  const { office } = useOffice();
  return (
    <>
      <Checks content={content} onGo={onGo} />
      <MarginPart title="In the inbox">
        <div className={classes.inbox}>
          <div>
            <b>{office.senderName}</b>
            <Soft>{clock(office.timeZone, new Date())}</Soft>
          </div>
          <div>{lineText(content.subject) || <Soft>no subject</Soft>}</div>
          <div>
            <Soft>{lineText(content.preview) || 'the first words of the letter'}</Soft>
          </div>
        </div>
      </MarginPart>
      <MarginPart title="Sent by">
        <Uses uses={letter.uses} path="/campaigns" most={8} />
      </MarginPart>
    </>
  );
}

function Checks({ content, onGo }: Omit<LetterMarginProps, 'letter'>) {
  const { office } = useOffice();
  const { data: vocabulary } = useVocabularyQuery();
  const checks = checkLetter({
    content,
    officeName: office.name,
    postalAddress: office.postalAddress,
    fields: vocabulary?.fields ?? [],
  });
  const open = checks.filter(({ level }) => level !== 'passed');
  return (
    <MarginPart title="Checks" aside={`${checks.length - open.length} of ${checks.length}`}>
      <Marks>
        {open.map((check, at) => {
          const block = placeOf(check);
          const isStop = check.level === 'stop';
          return (
            <Mark
              key={at}
              kind={isStop ? 'stop' : 'caution'}
              means={isStop ? 'stops a send' : 'a caution'}
            >
              {check.text} {block && <Act onClick={() => onGo(block)}>Go there</Act>}
            </Mark>
          );
        })}
        {open.length === 0 && (
          <Mark kind="good" means="in order">
            <Soft>Everything that can be checked here is in order.</Soft>
          </Mark>
        )}
      </Marks>
    </MarginPart>
  );
}
