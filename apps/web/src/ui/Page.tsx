// The idea of every screen: the work, wide, and the margin that counts, checks and explains it.
import { ActionIcon, Title } from '@mantine/core';
import { useDocumentTitle, useLocalStorage } from '@mantine/hooks';
import { IconLayoutSidebarRightCollapse, IconLayoutSidebarRightExpand } from '@tabler/icons-react';
import type { ReactNode } from 'react';
import classes from './Page.module.css';
import { Small, Soft } from './text';

interface PageProps {
  /** For the window's title; the heading itself may be edited in place. */
  readonly title: string;
  readonly heading?: ReactNode;
  readonly sub?: ReactNode;
  readonly actions?: ReactNode;
  readonly margin?: ReactNode;
  readonly children: ReactNode;
}

export function Page({ title, heading, sub, actions, margin, children }: PageProps) {
  const [folded, setFolded] = useLocalStorage({
    key: 'palabra.margin-folded',
    defaultValue: false,
  });
  useDocumentTitle(title ? `${title} · Palabra` : 'Palabra');
  const shape = !margin ? classes.whole : folded ? classes.folded : '';
  return (
    <div className={`${classes.page} ${shape}`}>
      <main className={classes.work} id="work" tabIndex={-1}>
        <div className={classes.head}>
          <div className={classes.title}>
            {heading ?? <Title order={1}>{title}</Title>}
            {sub && <Soft>{sub}</Soft>}
          </div>
          {actions && <div className={classes.actions}>{actions}</div>}
        </div>
        {children}
      </main>
      {margin && (
        <aside className={classes.margin} aria-label="Margin">
          <ActionIcon
            className={classes.fold}
            aria-label={folded ? 'Unfold the margin' : 'Fold the margin away'}
            aria-expanded={!folded}
            onClick={() => setFolded(!folded)}
          >
            {folded ? (
              <IconLayoutSidebarRightExpand size={18} />
            ) : (
              <IconLayoutSidebarRightCollapse size={18} />
            )}
          </ActionIcon>
          {!folded && margin}
        </aside>
      )}
    </div>
  );
}

export function MarginPart({
  title,
  aside,
  children,
}: {
  readonly title: string;
  readonly aside?: ReactNode;
  readonly children: ReactNode;
}) {
  return (
    <section className={classes.part}>
      <Title order={2} fz="md" mb={6}>
        {title} {aside && <Small fw={400}>{aside}</Small>}
      </Title>
      {children}
    </section>
  );
}

/** A stretch of the work under a ruled heading. */
export function Part({
  title,
  aside,
  children,
}: {
  readonly title: string;
  readonly aside?: ReactNode;
  readonly children: ReactNode;
}) {
  return (
    <section>
      <div className={classes.ruled}>
        <Title order={2}>{title}</Title>
        {aside}
      </div>
      {children}
    </section>
  );
}
