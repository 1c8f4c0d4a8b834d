// What taking an import back did, or would do.
import type { ImportReply } from '@palabra/contract/intake';
import { useUndoMutation } from '../contacts';
import { useMay } from '../office';
import { command } from '../ui/command';
import { Num, peoplePath } from '../ui/numbers';
import { Note } from '../ui/states';
import { Act, sentence, Soft } from '../ui/text';
import { mayBeTakenBack, type ImportPart } from './words';
import { useLeftoversQuery, useTakeLeftoversMutation, useTakingBackQuery } from './intake.api';

export function TakenBack({
  changeSet,
  count: people,
  leftAlone,
  isDone,
}: NonNullable<ImportReply['takenBack']>) {
  const may = useMay('change people');
  const [undo, undoing] = useUndoMutation();
  return (
    <div role="status">
      <Note kind={isDone ? 'good' : 'plain'}>
        {isDone ? 'Taken back' : 'Being taken back'}:{' '}
        <Num value={people} to={peoplePath(`change.${changeSet}`)} />{' '}
        {people === 1 ? 'person' : 'people'}
        {isDone ? '.' : ' so far. You can leave this page; it goes on.'}
        {leftAlone > 0 && (
          <>
            {' '}
            <Num value={leftAlone} to={peoplePath(`change.${changeSet}.left-alone`)} /> had changed
            since and {leftAlone === 1 ? 'was' : 'were'} left as they are.
          </>
        )}{' '}
        {may && isDone && people > 0 && (
          <Act
            loading={undoing.isLoading}
            onClick={() => void command({ run: () => undo(changeSet).unwrap() })}
          >
            Undo
          </Act>
        )}
      </Note>
    </div>
  );
}

export function WouldBeTakenBack({
  data,
  of,
}: {
  readonly data: ImportReply;
  readonly of: (part: ImportPart) => string;
}) {
  const may = useMay('change people');
  const { data: would } = useTakingBackQuery(data.id, { skip: !may || !mayBeTakenBack(data) });
  if (!would || (would.stay === 0 && would.changed === 0)) return null;
  return (
    <p>
      <Soft>
        Taken back,{' '}
        {would.stay > 0 && (
          <>
            <Num value={would.stay} to={of('would-stay')} /> of the new people{' '}
            {would.stay === 1 ? 'stays' : 'stay'}, because somebody has had to do with them since:
            they were changed, tagged or written to.{' '}
          </>
        )}
        {would.changed > 0 && (
          <>
            {would.stay > 0 ? 'The' : 'the'} <Num value={would.changed} to={of('changed')} />{' '}
            changed {would.changed === 1 ? 'becomes what they were' : 'become what they were'}
            {would.changedSince > 0 ? (
              <>
                ; <Num value={would.changedSince} to={of('changed-since')} /> of them{' '}
                {would.changedSince === 1 ? 'was' : 'were'} changed again since, and that stays.
              </>
            ) : (
              '.'
            )}
          </>
        )}
      </Soft>
    </p>
  );
}

/** Tags and fields that came with an import, and that nobody has now that it was taken back. */
export function Leftovers({ id }: { readonly id: number }) {
  const may = useMay('settings');
  const { data } = useLeftoversQuery(id, { skip: !may, refetchOnMountOrArgChange: true });
  const [take, taking] = useTakeLeftoversMutation();
  if (!data || data.tags.length + data.fields.length === 0) return null;
  const names = [
    ...data.tags.map(({ name }) => `the tag “${name}”`),
    ...data.fields.map(({ label }) => `the field “${label}”`),
  ];
  const shown = names.slice(0, 6).join(', ');
  return (
    <Note>
      {sentence(shown)}
      {names.length > 6 && ` and ${names.length - 6} more`} came with this file, and nobody has{' '}
      {names.length === 1 ? 'it' : 'them'} now.{' '}
      <Act
        loading={taking.isLoading}
        onClick={() =>
          void command({
            run: () => take(id).unwrap(),
            says: () => 'Taken out. Both can be brought back for thirty days.',
          })
        }
      >
        Take {names.length === 1 ? 'it' : 'them'} out
      </Act>
    </Note>
  );
}
