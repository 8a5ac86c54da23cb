/** For addresses that lead nowhere and for views that broke. */
import { isRouteErrorResponse, Link, useRouteError } from 'react-router';

export function Lost() {
  const error = useRouteError();
  const text = !error || isRouteErrorResponse(error) ? 'There is nothing at this address.' : String(error);
  return (
    <main className="lost">
      <h1>Nothing here</h1>
      <p>{text}</p>
      <Link to="/" className="btn">
        Back to the scenes
      </Link>
    </main>
  );
}
