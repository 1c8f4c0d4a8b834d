import { Button, Modal, TextInput } from '@mantine/core';
import type { LetterLine } from '@palabra/contract/letters';
import { shippedTemplates } from '@palabra/core/letters';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { problemOf } from '../app/api';
import { useMay, useOffice } from '../office/OfficeContext';
import { Page } from '../ui/Page';
import { Empty, Ghost, Note, Removed, Wrong } from '../ui/states';
import { ago } from '../ui/time';
import {
  useAddLetterMutation,
  useLettersQuery,
  useRemoveLetterMutation,
  useRestoreLetterMutation,
} from './letters.api';

export function LettersPage() {
  const letters = useLettersQuery();
  const { office } = useOffice();
  const may = useMay('write letters');
  const navigate = useNavigate();
  const [add] = useAddLetterMutation();
  const [remove] = useRemoveLetterMutation();
  const [restore] = useRestoreLetterMutation();
  const [starting, setStarting] = useState(false);
  const [removed, setRemoved] = useState<LetterLine>();
  const [error, setError] = useState<string>();
  const copy = async (letter: LetterLine): Promise<void> => {
    try {
      const { id } = await add({
        name: `${letter.name}, again`.slice(0, 120),
        copyOf: letter.id,
      }).unwrap();
      void navigate(`/letters/${id}`);
    } catch (reason) {
      setError(problemOf(reason).detail);
    }
  };
  const button = may && <Button onClick={() => setStarting(true)}>New letter</Button>;
  return (
    <Page title="Letters" sub="what is written: subject, preview line, blocks" actions={button}>
      {error && <Note kind="wrong">{error}</Note>}
      <Removed
        what={removed}
        onUndo={() => removed && void restore(removed.id).then(() => setRemoved(undefined))}
      />
      {letters.isError && <Wrong error={letters.error} again={() => void letters.refetch()} />}
      {letters.isLoading && <Ghost lines={6} />}
      {letters.data?.length === 0 && (
        <Empty title="No letters yet">
          Write one from a template or from nothing; it is saved as you write. {button}
        </Empty>
      )}
      <ul className="rows">
        {letters.data?.map((letter) => (
          <li key={letter.id}>
            <span className="when">{ago(office.timeZone, letter.updatedAt)}</span>
            <span className="what">
              <Link className="name" to={`/letters/${letter.id}`}>
                {letter.name}
              </Link>{' '}
              <span className="soft">{letter.subject}</span>
            </span>
            <span className="end">
              {letter.usedBy > 0 &&
                `in ${letter.usedBy} ${letter.usedBy === 1 ? 'campaign' : 'campaigns'}`}
            </span>
            {may && (
              <>
                <button
                  type="button"
                  className="act"
                  aria-label={`Copy ${letter.name}`}
                  onClick={() => void copy(letter)}
                >
                  Copy
                </button>
                <button
                  type="button"
                  className="act"
                  aria-label={`Delete ${letter.name}`}
                  onClick={() => void remove(letter.id).then(() => setRemoved(letter))}
                >
                  Delete
                </button>
              </>
            )}
          </li>
        ))}
      </ul>
      <Modal
        opened={starting}
        onClose={() => setStarting(false)}
        title={<b>New letter</b>}
        size="lg"
      >
        {starting && <StartLetter />}
      </Modal>
    </Page>
  );
}

function StartLetter() {
  const [add, adding] = useAddLetterMutation();
  const navigate = useNavigate();
  const [name, setName] = useState('');
  const [error, setError] = useState<string>();
  const begin = async (template: string | undefined, fallback: string): Promise<void> => {
    try {
      const { id } = await add({
        name: name.trim() || fallback,
        ...(template ? { template } : {}),
      }).unwrap();
      void navigate(`/letters/${id}`);
    } catch (reason) {
      setError(problemOf(reason).detail);
    }
  };
  return (
    <>
      <TextInput
        label="Name"
        description="Only the office sees it."
        data-autofocus
        maxLength={120}
        value={name}
        error={error}
        onChange={(event) => setName(event.currentTarget.value)}
      />
      <ul className="rows" style={{ marginTop: 12 }}>
        {shippedTemplates.map((template) => (
          <li key={template.key}>
            <span className="what">
              <b>{template.name}</b> <span className="soft">{template.about}</span>
            </span>
            <Button
              size="xs"
              variant="default"
              disabled={adding.isLoading}
              aria-label={`Start from ${template.name}`}
              onClick={() => void begin(template.key, template.name)}
            >
              Start from this
            </Button>
          </li>
        ))}
        <li>
          <span className="what">
            <b>From nothing</b> <span className="soft">Only the footer is there.</span>
          </span>
          <Button
            size="xs"
            variant="default"
            disabled={adding.isLoading}
            onClick={() => void begin(undefined, 'New letter')}
          >
            Start from nothing
          </Button>
        </li>
      </ul>
    </>
  );
}
