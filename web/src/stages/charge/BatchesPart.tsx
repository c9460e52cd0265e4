import { Popover } from "radix-ui";
import { useState } from "react";
import { wordsOf } from "@/api/problem";
import type { Batch, BenchLayout, BenchPlan, Sharing } from "@/api/types";
import { BoardChart, OwnAmps } from "@/charts/BoardChart";
import { tagOf } from "@/format/packId";
import { usePreferences } from "@/format/preferences";
import { worded } from "@/format/quantity";
import { Folded } from "@/parts/Folded";
import { Rush } from "@/stages/charge/parts";
import { mayShare } from "@/stages/charge/queries";
import type { BenchStore } from "@/stages/charge/useBench";

type Props = { plan: BenchPlan; store: BenchStore; asked: BenchLayout };
type Refused = { tags: string[]; sharing: Sharing };

/** Who may share a board, and why not; packs are moved by dragging or from their menu. */
export function BatchesPart({ plan, store, asked }: Props) {
  const [refused, setRefused] = useState<Refused | undefined>();
  const [failed, setFailed] = useState<string | undefined>();
  const now = plan.batches.filter((b) => !b.after_cooling);
  const move = async (pack: string, to: string | undefined) => {
    setRefused(undefined);
    setFailed(undefined);
    const groups = now.map((b) => ({ id: b.id, packs: b.packs.filter((x) => x !== pack) }));
    const target = groups.find((g) => g.id === to);
    const joined = target ? [...target.packs, pack] : [pack];
    try {
      if (joined.length > 1) {
        const sharing = await mayShare(asked, joined);
        if (!sharing.allowed) {
          setRefused({ tags: joined.map(tagOf), sharing });
          return;
        }
      }
      const rest = groups.filter((g) => g !== target && g.packs.length > 0).map((g) => g.packs);
      store.change(`Moved ${tagOf(pack)}`, { groups: [...rest, joined] });
    } catch (problem) {
      setFailed(wordsOf(problem, "It could not be moved."));
    }
  };
  return (
    <section aria-label="Batches" className="border-t px-4 py-4 md:px-6 lg:border-r lg:border-t-0">
      <div className="flex items-baseline justify-between gap-3">
        <h2 className="heading">Batches</h2>
        {store.bench.groups.length > 0 && (
          <button
            type="button"
            className="action text-plain"
            onClick={() => store.change("Split anew", { groups: [] })}
          >
            Split anew
          </button>
        )}
      </div>
      <BoardChoice plan={plan} store={store} />
      {(refused || failed) && (
        <div role="alert" className="mt-2 border border-alert px-3 py-2 text-plain">
          {failed && <p>{failed}</p>}
          {refused && (
            <>
              <p className="font-semibold">{refused.tags.join(" with ")}: not together.</p>
              <ul className="mt-1 space-y-1">
                {refused.sharing.reasons.map((r) => (
                  <li key={r.id + r.sentence}>{r.sentence}</li>
                ))}
              </ul>
              <Rush sharing={refused.sharing} tags={refused.tags} />
            </>
          )}
          <button
            type="button"
            className="action mt-1"
            onClick={() => {
              setRefused(undefined);
              setFailed(undefined);
            }}
          >
            All right
          </button>
        </div>
      )}
      {plan.batches.length === 0 && (
        <p className="mt-2 text-ink-soft">No pack has been read and found sound yet.</p>
      )}
      <ol className="mt-2 space-y-2">
        {plan.batches.map((b) => (
          <BatchCard
            key={b.id}
            batch={b}
            batches={now}
            apart={plan.apart}
            onMove={(p, to) => void move(p, to)}
          />
        ))}
      </ol>
      <Schools plan={plan} now={store.bench.house_rules} />
    </section>
  );
}

function BoardChoice({ plan, store }: { plan: BenchPlan; store: BenchStore }) {
  return (
    <p className="mt-1 flex flex-wrap items-baseline gap-x-2 text-plain">
      <label htmlFor="bench-board" className="text-ink-faint">
        On
      </label>
      <select
        id="bench-board"
        className="field min-w-0 font-medium"
        value={plan.board}
        onChange={(e) => store.change("Board", { board: e.target.value })}
      >
        {plan.boards.map((b) => (
          <option key={b.id} value={b.id}>
            {b.name}
          </option>
        ))}
        <option value="">no board: each alone</option>
      </select>
    </p>
  );
}

type CardProps = {
  batch: Batch;
  batches: Batch[];
  apart: BenchPlan["apart"];
  onMove: (pack: string, to: string | undefined) => void;
};

function BatchCard({ batch, batches, apart, onMove }: CardProps) {
  const p = usePreferences();
  const [over, setOver] = useState(false);
  const below = apart.find((a) => a.first === batch.id);
  return (
    <li>
      {/* biome-ignore lint/a11y/noStaticElementInteractions: a second way, beside each pack's menu */}
      <div
        className={`border px-3 py-2 ${over ? "border-fjord bg-hollow" : "border-rule bg-sheet"}`}
        onDragOver={(e) => {
          e.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={(e) => {
          e.preventDefault();
          setOver(false);
          const pack = e.dataTransfer.getData("text/plain");
          if (pack && !batch.packs.includes(pack)) onMove(pack, batch.id);
        }}
      >
        <div className="flex flex-wrap items-center gap-1.5">
          {batch.packs.map((pack) => (
            <PackChip key={pack} pack={pack} batch={batch} batches={batches} onMove={onMove} />
          ))}
          <span className="ml-auto text-small text-ink-faint">
            {batch.chemistry_name} {batch.series}S
          </span>
        </div>
        <p className="mt-1.5 text-plain">
          At most{" "}
          <span className="number font-semibold" title={batch.sentence}>
            {worded("amps_set", batch.most_a, p)}
          </span>
          {/* the house's own rate is told by its rules, and with each way to charge it */}
          {!batch.usual && <span className="text-ink-soft">: {batch.sentence}</span>}.
        </p>
        {batch.sharing.currents_a.length > 0 && <Rush sharing={batch.sharing} tags={batch.tags} />}
        {batch.first_minutes && (
          <div className="mt-1">
            <BoardChart first={batch.first_minutes} tags={batch.tags} height={132} />
            <OwnAmps first={batch.first_minutes} tags={batch.tags} />
          </div>
        )}
        {!batch.place && (
          <ul className="text-small font-medium">
            {batch.refusals.map((r) => (
              <li key={r}>{r}</li>
            ))}
          </ul>
        )}
        {batch.after_cooling && <p className="text-small">Once it is cool: look at it again first.</p>}
      </div>
      {below && (
        <details className="px-3 pt-1 text-small text-ink-faint">
          <summary>Not with the next</summary>
          <ul className="mt-0.5 space-y-0.5">
            {below.sharing.reasons.map((r) => (
              <li key={r.id + r.sentence}>{r.sentence}</li>
            ))}
          </ul>
          <Rush sharing={below.sharing} tags={below.sharing.packs.map(tagOf)} />
        </details>
      )}
    </li>
  );
}

type ChipProps = { pack: string; batch: Batch; batches: Batch[]; onMove: CardProps["onMove"] };

function PackChip({ pack, batch, batches, onMove }: ChipProps) {
  const tag = tagOf(pack);
  const [open, setOpen] = useState(false);
  const move = (to: string | undefined) => {
    setOpen(false);
    onMove(pack, to);
  };
  const others = batches.filter((b) => b.id !== batch.id);
  const item =
    "block w-full cursor-pointer px-4 py-1.5 text-left outline-none hover:bg-hollow focus:bg-hollow";
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger
        draggable
        onDragStart={(e) => e.dataTransfer.setData("text/plain", pack)}
        aria-label={`Move ${tag}`}
        className="number min-h-7 cursor-grab border border-rule-strong bg-ground px-2 text-plain
          font-semibold"
      >
        {tag}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          aria-label={`Where ${tag} may go`}
          sideOffset={4}
          collisionPadding={8}
          className="z-40 border border-rule-strong bg-sheet py-1 text-plain"
        >
          {others.map((b) => (
            <button key={b.id} type="button" className={item} onClick={() => move(b.id)}>
              Move {tag} to {b.tags.join(", ")}
            </button>
          ))}
          {batch.packs.length > 1 && (
            <button type="button" className={item} onClick={() => move(undefined)}>
              Charge {tag} alone
            </button>
          )}
          {others.length === 0 && batch.packs.length < 2 && (
            <p className="px-4 py-1.5 text-ink-faint">There is no other batch.</p>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function Schools({ plan, now }: { plan: BenchPlan; now: string }) {
  if (plan.batches.length === 0) return null;
  return (
    <Folded name="By each set of house rules" className="mt-4 text-small">
      <dl className="mt-1 grid grid-cols-[auto_1fr] gap-x-3 gap-y-1 text-small">
        {plan.schools.map((s) => (
          <div key={s.id} className="contents">
            <dt className={s.id === now ? "font-semibold" : "text-ink-soft"}>{s.name}</dt>
            <dd className={s.id === now ? "" : "text-ink-soft"}>
              <span className="number">{s.batches.length}</span>
              {s.batches.length === 1 ? " batch: " : " batches: "}
              <span className="number text-fine">{s.batches.map((b) => b.join("+")).join("  ")}</span>
            </dd>
          </div>
        ))}
      </dl>
    </Folded>
  );
}
