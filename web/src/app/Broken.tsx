import type { ErrorComponentProps } from "@tanstack/react-router";

/**
 * A screen that failed while it was drawn. The frame round it stays, so that every other stage can be
 * reached.
 */
export function Broken({ error, reset }: ErrorComponentProps) {
  return (
    <main className="mx-auto w-full max-w-lg flex-1 px-6 py-16">
      <h1 className="text-title font-semibold">This screen could not be drawn.</h1>
      <p className="mt-2 text-ink-soft">
        What was saved is safe. Try again, or go on in another stage; if it stays so, load the page anew.
      </p>
      <p className="number mt-3 text-small text-ink-faint">
        {error instanceof Error ? error.message : String(error)}
      </p>
      <p className="mt-4 flex gap-3">
        <button type="button" className="primary" onClick={reset}>
          Try again
        </button>
        <button type="button" className="control" onClick={() => window.location.reload()}>
          Load the page anew
        </button>
      </p>
    </main>
  );
}
