// A place for a file: chosen, or dropped.
import { FileButton, Loader } from '@mantine/core';
import { Dropzone } from '@mantine/dropzone';
import '@mantine/dropzone/styles.css';
import type { ReactNode } from 'react';
import classes from './FilePlace.module.css';
import { Act } from './text';

interface FileProps {
  readonly label: string;
  /** As in the `accept` of a file input. */
  readonly accept: string;
  readonly disabled?: boolean;
  readonly busy: boolean;
  readonly onFile: (file: File) => void;
  readonly children: ReactNode;
}

export function FilePlace({ label, accept, disabled, busy, onFile, children }: FileProps) {
  return (
    <Dropzone
      className={classes.place}
      multiple={false}
      disabled={disabled}
      loading={busy}
      // What a file is, the server finds out; a wrong one is refused there, with words.
      inputProps={{ 'aria-label': label, accept }}
      acceptColor="mulberry"
      onDrop={([file]) => file && onFile(file)}
    >
      {children}
    </Dropzone>
  );
}

export function FileWords({ label, accept, busy, onFile, children }: FileProps) {
  return (
    <FileButton
      accept={accept}
      inputProps={{ 'aria-label': label }}
      onChange={(file) => file && onFile(file)}
    >
      {(props) => <Act {...props}>{busy ? <Loader /> : children}</Act>}
    </FileButton>
  );
}
