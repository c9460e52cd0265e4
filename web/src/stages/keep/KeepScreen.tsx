import { useQuery } from "@tanstack/react-query";
import { Link, useParams, useSearch } from "@tanstack/react-router";
import { useAct } from "@/app/act";
import { choicesQuery } from "@/app/queries";
import { useRemembered } from "@/app/useRemembered";
import { StageWaiting } from "@/parts/StageWaiting";
import { goBy } from "@/rules/queries";
import { PackPanel } from "@/stages/keep/PackPanel";
import { placeQuery, shelfQuery } from "@/stages/keep/queries";
import { ShelfPart } from "@/stages/keep/ShelfPart";
import { mostUrgent } from "@/stages/keep/urgent";

/** The shelf by what to do now, and beside it the page of one pack. */
export function KeepScreen() {
  const { model } = useParams({ from: "/keep/$model" });
  const { pack } = useSearch({ from: "/keep/$model" });
  const act = useAct();
  const { data: shelf, error, refetch } = useQuery(shelfQuery);
  const { data: choices } = useQuery(choicesQuery);
  useRemembered(model, "Keep");
  const keepBy = (id: string) =>
    act({ act: () => goBy(id), touches: ["rules"], fails: "It could not be kept." });
  // what lies above the shelf is there before it: nothing moves when it comes
  const { isPending, failureCount } = useQuery(placeQuery);
  const placing = isPending && failureCount === 0;
  if (!shelf || placing)
    return (
      <StageWaiting
        heading="Keep"
        words="Looking at the shelf…"
        error={error}
        onRetry={() => void refetch()}
      />
    );
  const urgent = mostUrgent(shelf);
  return (
    <main className="flex flex-1 flex-col">
      <h1 className="sr-only">Keep</h1>
      <div className="print-hidden flex flex-wrap items-baseline gap-x-5 gap-y-1 border-b px-4 py-3 md:px-6">
        <p className="text-lead font-semibold">{headline(shelf)}</p>
        <a className="action text-plain sm:ml-auto" href="/api/keep/due.ics" download>
          What is due as a calendar file
        </a>
        <Link to="/box" className="action text-plain">
          The box
        </Link>
        <Link to="/tags" className="action text-plain">
          Tags to print
        </Link>
        <label className="flex items-baseline gap-2 text-plain">
          <span className="text-small text-ink-faint">House rules</span>
          <select
            className="field py-0.5 font-medium"
            value={shelf.rules_id}
            onChange={(e) => void keepBy(e.target.value)}
          >
            {(choices?.house_rules ?? []).map((c) => (
              <option key={c.id} value={c.id}>
                {c.name}
              </option>
            ))}
          </select>
        </label>
        <Link to="/rules" search={{ set: shelf.rules_id }} className="action text-plain">
          Every rule
        </Link>
      </div>
      <div className="grid flex-1 grid-cols-1 lg:grid-cols-[minmax(22.5rem,5fr)_minmax(0,6fr)]">
        <ShelfPart shelf={shelf} picked={pack} shown={pack ?? urgent} hidden={pack !== undefined} />
        {pack ? (
          <PackPanel key={pack} tag={pack} />
        ) : (
          urgent && (
            <div className="hidden lg:block">
              <PackPanel key={urgent} tag={urgent} />
            </div>
          )
        )}
      </div>
    </main>
  );
}

function headline(shelf: {
  count: number;
  groups: { doing: string; packs: { in_h: number | null }[] }[];
}): string {
  if (shelf.count === 0) return "There is no pack in the box yet.";
  const storage = shelf.groups.find((g) => g.doing === "storage")?.packs ?? [];
  const late = storage.filter((p) => (p.in_h ?? 0) < 0).length;
  if (late > 0) return `${late} pack${late === 1 ? " is" : "s are"} overdue for storage.`;
  if (storage.length > 0)
    return `${storage.length} pack${storage.length === 1 ? "" : "s"} to bring to storage.`;
  return "Nothing is due.";
}
