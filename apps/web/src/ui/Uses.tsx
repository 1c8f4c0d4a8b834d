// Where a thing is used, as links.
import { Fragment } from 'react';
import { Link } from 'react-router';
import { Soft } from './text';

export interface Use {
  readonly id: number;
  readonly name: string;
}

export function Uses({
  uses,
  path,
  most = 2,
}: {
  readonly uses: readonly Use[];
  readonly path: string;
  readonly most?: number;
}) {
  if (uses.length === 0) return <Soft>nowhere yet</Soft>;
  return (
    <>
      {uses.slice(0, most).map(({ id, name }, at) => (
        <Fragment key={id}>
          {at > 0 && ', '}
          <Link to={`${path}/${id}`}>{name}</Link>
        </Fragment>
      ))}
      {uses.length > most && <Soft> and {uses.length - most} more</Soft>}
    </>
  );
}
