// A letter: written in blocks, saved as it is made, shown as its readers will see it.
import { ActionIcon, Title, Tooltip } from '@mantine/core';
import { useHotkeys } from '@mantine/hooks';
import type { LetterReply } from '@palabra/contract/letters';
import type { LetterContent } from '@palabra/core/letters';
import { IconArrowBackUp, IconArrowForwardUp } from '@tabler/icons-react';
import { useEffect, useState } from 'react';
import { useDispatch } from 'react-redux';
import { useParams, useSearchParams } from 'react-router';
import { useDraft } from '../api/drafts';
import { useHistory, type Undoing } from '../api/history';
import { server } from '../api/server';
import { PersonChooser, useVocabularyQuery } from '../contacts';
import { useMay } from '../office';
import { InPlace } from '../ui/InPlace';
import { Page } from '../ui/Page';
import { SaveTrouble, SaveWord } from '../ui/saving';
import { Waiting } from '../ui/states';
import { Words } from '../ui/Words';

import { LetterMargin } from './LetterMargin';
import { useLetterQuery, useSaveLetterMutation } from './letters.api';
import { Shown, shows, type Show } from './Shown';
import { WaitingCampaigns } from './WaitingCampaigns';
import { Writing } from './Writing';

export function LetterPage() {
  const id = Number(useParams()['id']);
  const letter = useLetterQuery(id, {
    skip: !Number.isInteger(id),
    refetchOnMountOrArgChange: true,
  });
  const { data: vocabulary } = useVocabularyQuery();
  const [opened, setOpened] = useState<LetterReply>();
  if (letter.data?.id === id && !letter.isFetching && opened?.id !== id) setOpened(letter.data);
  if (opened?.id !== id || !vocabulary)
    return (
      <Waiting error={letter.data ? undefined : letter.error} again={() => void letter.refetch()} />
    );
  return <Editor key={id} letter={opened} />;
}

/** Where in the letter, and how it is shown: in the address bar. */
function usePlace(): {
  readonly show: Show;
  readonly as: number | undefined;
  readonly at: string | undefined;
  readonly turn: (show: Show) => void;
  readonly showAs: (person: number | undefined) => void;
} {
  const [search, setSearch] = useSearchParams();
  const put = (name: string, value: string | undefined): void =>
    setSearch((before) => {
      const next = new URLSearchParams(before);
      if (value === undefined) next.delete(name);
      else next.set(name, value);
      return next;
    });
  return {
    show: shows.find((one) => one === search.get('show')) ?? 'write',
    as: Number(search.get('as')) || undefined,
    at: search.get('at') ?? undefined,
    turn: (show) => put('show', show === 'write' ? undefined : show),
    showAs: (person) => put('as', person === undefined ? undefined : String(person)),
  };
}

interface LetterDraft {
  readonly name: string;
  readonly content: LetterContent;
}

function Editor({ letter }: { readonly letter: LetterReply }) {
  const may = useMay('write letters');
  const place = usePlace();
  const dispatch = useDispatch();
  const [save] = useSaveLetterMutation();
  const draft = useDraft<LetterDraft>({
    value: { name: letter.name, content: letter.content },
    version: letter.version,
    save: (value, version) => save({ id: letter.id, version, ...value }).unwrap(),
    read: ({ name, content }: LetterDraft) => ({ name, content }),
  });
  const { name, content } = draft.value;
  const history = useHistory(content, (next) =>
    draft.change((before) => ({ ...before, content: next })),
  );
  const [chosen, setChosen] = useState(place.at);
  // Lists and tallies elsewhere learn of the changes when the editor is left.
  useEffect(() => () => void dispatch(server.util.invalidateTags(['Letter'])), [dispatch]);
  const rename = (next: string): void => {
    if (next === '') throw new Error('A letter needs a name.');
    draft.change((before) => ({ ...before, name: next }));
  };
  const go = (block: string): void => {
    place.turn('write');
    setChosen(block);
    requestAnimationFrame(() => scrollTo(block));
  };
  return (
    <Page
      title={name}
      heading={
        <Title order={1}>
          <InPlace
            title
            label="Name of the letter"
            value={name}
            maxLength={120}
            disabled={!may}
            onSave={rename}
          />
        </Title>
      }
      sub={<SaveWord state={draft.state} />}
      actions={
        <>
          {may && place.show === 'write' && <UndoRedo history={history} />}
          <Words label="Show" value={place.show} options={shows} onChange={place.turn} />
          {place.show !== 'write' && (
            <PersonChooser
              before="as"
              nobody="nobody in particular"
              value={place.as}
              onChange={place.showAs}
            />
          )}
        </>
      }
      margin={<LetterMargin letter={letter} content={content} onGo={go} />}
    >
      <SaveTrouble draft={draft} what="letter" />
      <WaitingCampaigns uses={letter.uses} />
      {place.show === 'write' ? (
        <Writing
          content={content}
          chosen={chosen}
          opensAt={place.at}
          disabled={!may}
          onChoose={setChosen}
          onChange={history.change}
        />
      ) : (
        <Shown
          id={letter.id}
          show={place.show}
          as={place.as}
          saved={draft.state.kind === 'saved'}
        />
      )}
    </Page>
  );
}

const scrollTo = (block: string): void =>
  document.getElementById(`block-${block}`)?.scrollIntoView({ block: 'center' });

function UndoRedo({ history }: { readonly history: Undoing<LetterContent> }) {
  const { canUndo, canRedo, undo, redo } = history;
  // The letter's own history does it, in the texts, too; only plain fields undo by themselves.
  useHotkeys(
    [
      ['mod+Z', undo],
      ['mod+shift+Z', redo],
      ['mod+Y', redo],
    ],
    ['INPUT'],
    true,
  );
  return (
    <>
      <Tooltip label="Ctrl+Z">
        <ActionIcon aria-label="Undo" disabled={!canUndo} onClick={undo}>
          <IconArrowBackUp size={20} />
        </ActionIcon>
      </Tooltip>
      <Tooltip label="Ctrl+Shift+Z">
        <ActionIcon aria-label="Redo" disabled={!canRedo} onClick={redo}>
          <IconArrowForwardUp size={20} />
        </ActionIcon>
      </Tooltip>
    </>
  );
}
