// The idea of every screen: the work, wide, and the margin that counts, checks and explains it.
import { ActionIcon } from '@mantine/core';
import { useLocalStorage } from '@mantine/hooks';
import { IconLayoutSidebarRightCollapse, IconLayoutSidebarRightExpand } from '@tabler/icons-react';
import { useEffect, type ReactNode } from 'react';

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
  useEffect(() => {
    document.title = title ? `${title} · Palabra` : 'Palabra';
  }, [title]);
  return (
    <div className={`page ${margin ? (folded ? 'folded' : '') : 'whole'}`}>
      <main className="work" id="work" tabIndex={-1}>
        <div className="head">
          <div className="head-title">
            {heading ?? <h1>{title}</h1>}
            {sub && <span className="soft">{sub}</span>}
          </div>
          {actions && <div className="head-actions">{actions}</div>}
        </div>
        {children}
      </main>
      {margin && (
        <aside className="margin" aria-label="Margin">
          <ActionIcon
            className="margin-fold"
            variant="subtle"
            color="gray"
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
    <section>
      <h2>
        {title} {aside && <span className="soft small">{aside}</span>}
      </h2>
      {children}
    </section>
  );
}
