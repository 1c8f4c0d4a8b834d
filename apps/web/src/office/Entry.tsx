// The frame of the pages before one is signed in.
import { Title } from '@mantine/core';
import { useDocumentTitle } from '@mantine/hooks';
import type { ReactNode } from 'react';
import { Mark } from '../ui/Mark';
import classes from './office.module.css';

export function Entry({
  title,
  beside,
  children,
}: {
  readonly title: string;
  /** On a wide screen, beside the form. */
  readonly beside?: ReactNode;
  readonly children: ReactNode;
}) {
  useDocumentTitle(`${title} · Palabra`);
  return (
    <main className={`${classes.entry} ${beside ? classes.two : ''}`} id="work">
      <div>
        <Mark large />
        <Title order={1} mt="lg">
          {title}
        </Title>
        {children}
      </div>
      {beside && <aside className={classes.beside}>{beside}</aside>}
    </main>
  );
}
