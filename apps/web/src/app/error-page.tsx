import { isRouteErrorResponse, Link, useRouteError } from 'react-router'

/** A page that does not exist, or that failed: what happened, and the way on. */
export function ErrorPage() {
  const error = useRouteError()
  const isMissing = error === undefined || error === null || (isRouteErrorResponse(error) && error.status === 404)
  return (
    <main className="p-10 max-w-[640px]">
      <h1>{isMissing ? 'There is no such page' : 'This page failed'}</h1>
      <p className="mt-2 text-soft">
        {isMissing
          ? 'The address may be mistyped, or the page moved.'
          : `What you recorded is safe on the server. ${error instanceof Error ? error.message : ''}`}
      </p>
      <p className="mt-4 flex gap-4">
        {!isMissing && (
          <button type="button" className="link" onClick={() => location.reload()}>
            Load it again
          </button>
        )}
        {/* By the server: this page may be of an Insel that is no longer there. */}
        <Link to="/" className="link" reloadDocument>
          Go to the estates
        </Link>
      </p>
    </main>
  )
}
