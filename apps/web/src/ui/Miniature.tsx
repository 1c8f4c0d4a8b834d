// A letter as a small picture of itself: the compiled letter, scaled, in a frame that can do nothing; loaded as it comes into sight.
import { HoverCard } from '@mantine/core';
import { useInViewport } from '@mantine/hooks';
import { useEffect, useState, type ReactNode } from 'react';
import classes from './Miniature.module.css';

/** Width of a letter as it is laid out, in px. */
const LETTER = 640;
/** What is only scrolled past is not fetched, and words and figures of a page come before its pictures. */
const REST_MS = 400;

export function Miniature({
  src,
  title,
  width,
  height,
}: {
  readonly src: string;
  readonly title: string;
  /** In px. */
  readonly width: number;
  readonly height: number;
}) {
  const { ref, inViewport } = useInViewport();
  const [seen, setSeen] = useState(false);
  useEffect(() => {
    if (!inViewport) return undefined;
    const rest = setTimeout(() => setSeen(true), REST_MS);
    return () => clearTimeout(rest);
  }, [inViewport]);
  const [isHere, setIsHere] = useState(false);
  const scale = width / LETTER;
  return (
    <span
      ref={ref}
      className={classes.frame}
      style={{ width, height }}
      role="img"
      aria-label={title}
    >
      {seen && (
        <iframe
          title={title}
          aria-hidden
          tabIndex={-1}
          sandbox=""
          loading="lazy"
          src={src}
          data-here={isHere || undefined}
          onLoad={() => setIsHere(true)}
          className={classes.letter}
          style={{ width: LETTER, height: height / scale, transform: `scale(${scale})` }}
        />
      )}
    </span>
  );
}

/** What is named, and its letter beside it on hover. */
export function WithMiniature({
  src,
  title,
  children,
}: {
  readonly src: string;
  readonly title: string;
  readonly children: ReactNode;
}) {
  return (
    <HoverCard position="right" withinPortal withRoles={false}>
      <HoverCard.Target>
        <span>{children}</span>
      </HoverCard.Target>
      <HoverCard.Dropdown p={8}>
        <Miniature src={src} title={title} width={240} height={300} />
      </HoverCard.Dropdown>
    </HoverCard>
  );
}
