import { useQueryClient } from "@tanstack/react-query";
import type { PackPage } from "@/api/types";
import { handsWords } from "@/format/hands";
import { dateWords } from "@/format/time";
import { withdraw } from "@/life/queries";

/**
 * All that was done to the pack, read of it and said of it, the newest first; what people said can be taken
 * back.
 */
export function LifePart({ page }: { page: PackPage }) {
  const queries = useQueryClient();
  if (page.life.length === 0) return null;
  return (
    <details className="mt-6 border-t pt-3">
      <summary className="cursor-pointer font-semibold">
        Its life: {page.life_count} event{page.life_count === 1 ? "" : "s"}
      </summary>
      <ul className="mt-2 divide-y divide-hollow text-plain">
        {page.life.map((e) => (
          <li key={e.id} className="flex items-baseline gap-3 py-1">
            <time className="number shrink-0 text-small text-ink-faint" dateTime={e.at}>
              {dateWords(e.at)}
            </time>
            <span className="min-w-0 flex-1">
              {e.sentence}
              {e.hands && <span className="text-small text-ink-faint"> · {handsWords(e.hands)}</span>}
              {e.flag && <span className="block text-small font-semibold">{e.flag}</span>}
            </span>
            {e.mine && (
              <button
                type="button"
                className="action print-hidden shrink-0 text-small"
                aria-label={`Take back: ${e.sentence}`}
                onClick={() => void withdraw(queries, [e.id])}
              >
                Take back
              </button>
            )}
          </li>
        ))}
      </ul>
      {page.life_count > page.life.length && (
        <p className="mt-1 text-small text-ink-faint">
          The latest {page.life.length}. All of them:{" "}
          <a className="action" href="/api/keep/life.csv" download>
            every pack’s life as CSV
          </a>
        </p>
      )}
    </details>
  );
}
