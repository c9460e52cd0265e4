import { useQueryClient } from "@tanstack/react-query";
import type { PackPage } from "@/api/types";
import { dateWords } from "@/format/time";
import { withdraw } from "@/life/queries";
import { ActRow } from "@/parts/ActRow";
import { Folded } from "@/parts/Folded";

/**
 * All that was done to the pack, read of it and said of it, the newest first; what people said can be taken
 * back.
 */
export function LifePart({ page }: { page: PackPage }) {
  const queries = useQueryClient();
  if (page.life.length === 0) return null;
  return (
    <Folded
      className="mt-6 border-t pt-3"
      name={
        <span className="font-semibold">
          Its life: {page.life_count} event{page.life_count === 1 ? "" : "s"}
        </span>
      }
    >
      <ul className="mt-2 divide-y divide-hollow text-plain">
        {page.life.map((e) => (
          <ActRow
            key={e.id}
            at={e.at}
            when={dateWords(e.at)}
            hands={e.hands}
            below={e.flag}
            act={
              e.mine
                ? {
                    name: "Take back",
                    label: `Take back: ${e.sentence}`,
                    run: () => void withdraw(queries, [e.id]),
                  }
                : undefined
            }
          >
            {e.sentence}
          </ActRow>
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
    </Folded>
  );
}
