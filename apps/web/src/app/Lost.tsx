import { Link, useRouteError } from 'react-router';

/** An address with nothing behind it, or a page that broke. */
export function Lost() {
  const error = useRouteError();
  return (
    <main className="work" id="work">
      <h1>{error ? 'This page broke' : 'There is nothing here'}</h1>
      <p className="empty">
        {error
          ? 'That is our fault; nothing of yours is lost. Load the page again, or go back to the desk.'
          : 'The address may be incomplete, or what was here was deleted.'}{' '}
        <Link to="/">To the desk</Link>
      </p>
    </main>
  );
}
