// Before somebody is erased: what goes, what stays, and what holds them still.
import { Button, Checkbox, Group, Modal } from '@mantine/core';
import { personalPlaces } from '@palabra/core/contacts';
import { useState } from 'react';
import { problemOf } from '../../api/problems';
import { tell } from '../../ui/command';
import { count } from '../../ui/numbers';
import { Ghost, Note, Wrong } from '../../ui/states';
import { Soft } from '../../ui/text';
import { useErasingQuery, useEraseMutation } from '../contacts.api';
import classes from '../contacts.module.css';

interface EraseDialogProps {
  readonly id: number;
  readonly name: string;
  readonly onClose: () => void;
}

export function EraseDialog({ id, name, onClose }: EraseDialogProps) {
  const { data, error, refetch } = useErasingQuery(id, { refetchOnMountOrArgChange: true });
  const [erase, erasing] = useEraseMutation();
  const [isSure, setSure] = useState(false);
  const go = async (): Promise<void> => {
    const done = await erase(id)
      .unwrap()
      .then(
        () => true,
        () => false,
      );
    if (!done) return;
    onClose();
    tell('Erased. Their figures stay, without a name.', 'good');
  };
  return (
    <Modal opened size="lg" title={`Erase ${name}`} onClose={onClose}>
      {error && <Wrong error={error} again={() => void refetch()} />}
      {!data && !error && <Ghost lines={6} />}
      {data && (
        <>
          <p>This goes at once, and can’t be taken back:</p>
          <ul className={classes.goes}>
            {data.people.map((one) => (
              <li key={one.id}>
                <b>{one.name}</b>, in the pool “{one.pool}”
              </li>
            ))}
            {data.places
              .filter((one) => one.count > 0 && one.place !== 'person')
              .map((one) => (
                <li key={one.place}>
                  {personalPlaces[one.place]} <Soft>· {count(one.count)}</Soft>
                </li>
              ))}
          </ul>
          <p>
            Figures of letters stay as they are, without a name. Letters that still wait for them
            don’t go out.{' '}
            {data.addresses.length > 0 &&
              'No list brings them back: only they themselves can, by the page behind an earlier letter.'}
          </p>
          {(data.backups.length > 0 || data.isServer) && (
            <Note kind="caution">
              {data.isServer
                ? 'Backups of the PostgreSQL server hold them still; Palabra does not know which there are.'
                : 'These backups hold them still, until you delete them:'}
              <ul className={classes.goes}>
                {data.backups.map((file) => (
                  <li key={file}>{file}</li>
                ))}
              </ul>
            </Note>
          )}
          {erasing.error !== undefined && (
            <Note kind="wrong">{problemOf(erasing.error).detail}</Note>
          )}
          <Checkbox
            mt="md"
            label={`${name} asked for this`}
            checked={isSure}
            onChange={(event) => setSure(event.currentTarget.checked)}
          />
          <Group mt="md">
            <Button
              color="red"
              disabled={!isSure}
              loading={erasing.isLoading}
              onClick={() => void go()}
            >
              Erase for good
            </Button>
            <Button variant="default" data-autofocus onClick={onClose}>
              Keep them
            </Button>
          </Group>
        </>
      )}
    </Modal>
  );
}
