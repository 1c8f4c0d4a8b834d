// A campaign's letter, small; opened, it is as large as its readers see it.
import { Modal, UnstyledButton } from '@mantine/core';
import { useState } from 'react';
import { Miniature } from '../ui/Miniature';
import classes from './campaigns.module.css';

export function LetterPicture({
  src,
  title,
  width = 150,
  height = 190,
}: {
  readonly src: string;
  readonly title: string;
  /** In px. */
  readonly width?: number;
  readonly height?: number;
}) {
  const [opened, setOpened] = useState(false);
  return (
    <>
      <UnstyledButton
        className={classes.letter}
        aria-label={`${title}: show it whole`}
        onClick={() => setOpened(true)}
      >
        <Miniature src={src} title={title} width={width} height={height} />
      </UnstyledButton>
      <Modal opened={opened} onClose={() => setOpened(false)} title={title} size={720}>
        <iframe className={classes.whole} title={title} sandbox="allow-popups" src={src} />
      </Modal>
    </>
  );
}
