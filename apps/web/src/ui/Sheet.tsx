// A sheet with parts side by side with their names, and lines with their labels.
import type { ReactNode } from 'react';
import classes from './Sheet.module.css';

export function SheetPart({
  id,
  title,
  children,
}: {
  readonly id?: string;
  readonly title?: string;
  readonly children: ReactNode;
}) {
  return (
    <section className={classes.part} id={id}>
      {title ? <h2>{title}</h2> : <span />}
      <div>{children}</div>
    </section>
  );
}

export function SheetLine({
  id,
  label,
  whole,
  children,
}: {
  readonly id?: string;
  readonly label?: string;
  /** One text that takes the rest of the line. */
  readonly whole?: boolean;
  readonly children: ReactNode;
}) {
  return (
    <div className={`${classes.line} ${whole ? classes.wholeLine : ''}`} id={id}>
      {label !== undefined && <span className={classes.label}>{label}</span>}
      {children}
    </div>
  );
}

/** Facts with their names. */
export function Facts({ children }: { readonly children: ReactNode }) {
  return <dl className={classes.facts}>{children}</dl>;
}

export function Fact({
  name,
  children,
}: {
  readonly name: ReactNode;
  readonly children: ReactNode;
}) {
  return (
    <div className={classes.fact}>
      <dt>{name}</dt>
      <dd>{children}</dd>
    </div>
  );
}
