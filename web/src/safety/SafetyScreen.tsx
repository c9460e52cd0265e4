import { useQuery } from "@tanstack/react-query";
import { StageWaiting } from "@/parts/StageWaiting";
import { useTitle } from "@/parts/useTitle";
import { safetyQuery } from "@/safety/query";

/**
 * All cautions by when they apply; what to do in a fire comes first and largest. Prints on one page for the
 * wall.
 */
export function SafetyScreen() {
  const { data, error, refetch } = useQuery(safetyQuery);
  useTitle("Safety");
  if (!data)
    return (
      <StageWaiting
        heading="Safety"
        words="Fetching the cautions…"
        error={error}
        onRetry={() => void refetch()}
      />
    );
  const [burning, ...others] = data.sections;
  return (
    <main className="mx-auto w-full max-w-5xl flex-1 px-4 py-5 md:px-6">
      <div className="flex flex-wrap items-baseline gap-x-5">
        <h1 className="text-title font-semibold">Safety</h1>
        <p className="text-ink-soft">{data.advice}</p>
        <button type="button" className="action print-hidden ml-auto" onClick={() => window.print()}>
          Print it for the wall
        </button>
      </div>
      {burning && (
        <section aria-labelledby="burning" className="mt-4 border-l-8 border-alert py-1 pl-4">
          <h2 id="burning" className="text-title font-bold text-alert">
            {burning.title}
          </h2>
          <ol className="mt-1 max-w-prose list-decimal space-y-1 pl-6 text-lead">
            {burning.cautions.map((c) => (
              <li key={c.id}>{c.sentence}</li>
            ))}
          </ol>
        </section>
      )}
      <div className="mt-6 gap-10 md:columns-2">
        {others.map((s) => (
          <section key={s.id} aria-labelledby={s.id} className="mb-6 break-inside-avoid border-t pt-2">
            <h2 id={s.id} className="font-semibold">
              {s.title}
            </h2>
            <ul className="mt-1 list-[square] space-y-1 pl-4 text-ink-soft marker:text-rule-strong">
              {s.cautions.map((c) => (
                <li key={c.id}>{c.sentence}</li>
              ))}
            </ul>
          </section>
        ))}
      </div>
    </main>
  );
}
