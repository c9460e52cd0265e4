import { Link } from "@tanstack/react-router";

export function NotFound() {
  return (
    <main className="mx-auto max-w-lg px-6 py-16">
      <h1 className="text-title font-semibold">There is nothing at this address.</h1>
      <p className="mt-2 text-ink-soft">It may be mistyped, or from another version.</p>
      <Link to="/" className="action mt-4 inline-block">
        Go to sizing
      </Link>
    </main>
  );
}
