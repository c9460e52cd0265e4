import { type QueryClient, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { useRef, useState } from "react";
import { wordsOf } from "@/api/problem";
import type { BenchLayout, BenchPlan, Laid, LaidAsk } from "@/api/types";
import { touched, useAct } from "@/app/act";
import { notify } from "@/app/notices";
import { ownedQuery } from "@/app/queries";
import { ownedId, tagOf } from "@/format/packId";
import { parsed } from "@/format/parse";
import { usePreferences } from "@/format/preferences";
import { typed, unitOf } from "@/format/quantity";
import { asRead } from "@/format/reading";
import { timeWords } from "@/format/time";
import { OwnNow } from "@/gear/OwnNow";
import { changeVerb } from "@/gear/queries";
import { LookPart } from "@/life/LookPart";
import { TypoNote } from "@/life/TypoNote";
import { PackState } from "@/parts/PackState";
import { Pick } from "@/parts/Pick";
import { PackSheet } from "@/stages/charge/PackSheet";
import { Tag } from "@/stages/charge/parts";
import { readByChecker, takeOutOfUse } from "@/stages/charge/queries";
import { type BenchStore, newLine } from "@/stages/charge/useBench";

type Props = {
  plan: BenchPlan;
  store: BenchStore;
  asked: BenchLayout;
  model: string;
  problems: ReadonlyMap<string, string>;
};

/** The packs laid out: look and feel, read the cells. */
export function PacksPart({ plan, store, asked, model, problems }: Props) {
  const [opened, setOpened] = useState<string | undefined>();
  const list = useRef<HTMLUListElement>(null);
  const queries = useQueryClient();
  const { bench } = store;
  const { data: owned } = useQuery(ownedQuery);
  const found = new Map(plan.laid.map((x) => [x.pack, x]));
  const unread = bench.laid.filter((x) => !x.cells.trim());
  const readAll = async () => {
    for (const line of unread) if (!(await readOne(queries, store, line.pack))) return;
  };
  const next = (index: number) => {
    const fields = list.current?.querySelectorAll<HTMLInputElement>("input[data-cells]");
    fields?.[index + 1]?.focus();
  };
  return (
    <section aria-label="Packs laid out" className="px-4 py-4 md:px-6 lg:border-r">
      <div className="flex items-baseline justify-between gap-3">
        <h2 className="heading">Packs laid out</h2>
        {plan.checker && unread.length > 0 && (
          <button type="button" className="action text-plain" onClick={() => void readAll()}>
            Read {unread.length} with the checker
          </button>
        )}
      </div>
      {bench.laid.length === 0 && owned && owned.length > 0 && (
        <p className="mt-2 text-ink-soft">
          Nothing lies on the bench. Add a pack, look at it, and read its cells.
        </p>
      )}
      {bench.laid.length === 0 && owned?.length === 0 && (
        <div className="mt-2">
          <OwnNow
            model={model}
            shows="Nothing lies on the bench, and the box is empty. Packs are laid out here, looked at and
              read; then who may charge with whom, at how many amps, on which port and until when."
          />
        </div>
      )}
      <ul ref={list} className="mt-1 divide-y divide-hollow">
        {bench.laid.map((line, i) => (
          <PackLine
            key={line.pack}
            line={line}
            laid={found.get(line.pack)}
            plan={plan}
            store={store}
            problem={problems.get(`laid.${i}.pack`) ?? problems.get(`laid.${i}.temperature_c`)}
            onEnter={() => next(i)}
            onOpen={() => setOpened(line.pack)}
          />
        ))}
      </ul>
      <AddPack store={store} />
      {opened && found.has(opened) && (
        <PackSheet
          laid={found.get(opened) as Laid}
          asked={asked}
          model={model}
          onClose={() => setOpened(undefined)}
        />
      )}
    </section>
  );
}

async function readOne(queries: QueryClient, store: BenchStore, pack: string): Promise<boolean> {
  try {
    const read = await readByChecker(pack);
    store.changePack(pack, {
      cells: read.cells,
      temperature_c: read.temperature_c,
      read_at: read.read_at,
      source: "checker",
    });
    touched(queries, "life");
    return true;
  } catch (problem) {
    notify(wordsOf(problem, "It could not be read."), { wrong: true });
    return false;
  }
}

type LineProps = {
  line: LaidAsk;
  laid: Laid | undefined;
  plan: BenchPlan;
  store: BenchStore;
  problem: string | undefined;
  onEnter: () => void;
  onOpen: () => void;
};

/** Now, for what is typed now. */
const moment = () => new Date().toISOString();

function PackLine({ line, laid, plan, store, problem, onEnter, onOpen }: LineProps) {
  const tag = tagOf(line.pack);
  const p = usePreferences();
  const queries = useQueryClient();
  const wrong = laid?.problem || problem;
  const condemned = laid?.level === "retire";
  const id = `cells-${tag}`;
  // what was typed before has been asked about before
  const [edited, setEdited] = useState(false);
  const type = (cells: string) => {
    setEdited(true);
    store.changePack(line.pack, { cells, source: "typed", read_at: moment() });
  };
  const remove = () =>
    store.change(`Put ${tag} away`, {
      laid: store.bench.laid.filter((x) => x.pack !== line.pack),
      groups: store.bench.groups.map((g) => g.filter((x) => x !== line.pack)).filter((g) => g.length > 0),
    });
  return (
    <li className="py-2">
      <div className="flex items-baseline gap-2">
        <Tag laid={tag} />
        {laid && asRead(laid) ? (
          <button
            type="button"
            className="action min-w-0 flex-1 truncate text-left font-normal"
            title="Its cells, and the way to storage"
            onClick={onOpen}
          >
            {laid.name}
            <span className="sr-only">: storage and cells of {tag}</span>
          </button>
        ) : (
          <span className="min-w-0 flex-1 truncate">{laid?.name}</span>
        )}
        {laid && (
          <span className="text-small text-ink-soft">
            <PackState now={laid} />
          </span>
        )}
        <button
          type="button"
          className="hit px-1 text-lead leading-4 text-ink-faint hover:text-fjord"
          aria-label={`Put away ${tag}`}
          title="Put away"
          onClick={remove}
        >
          ×
        </button>
      </div>
      <div className="mt-1 flex items-end gap-3">
        <label htmlFor={id} className="sr-only">
          Volts of {tag}, cells or pack
        </label>
        <input
          id={id}
          data-cells
          inputMode="text"
          autoComplete="off"
          spellCheck={false}
          placeholder={laid?.example}
          className="number field min-w-0 flex-1 py-0.5 text-plain"
          value={line.cells}
          aria-invalid={wrong ? true : undefined}
          aria-describedby={wrong ? `${id}-wrong` : undefined}
          onChange={(e) => type(e.target.value)}
          onKeyDown={(e) => e.key === "Enter" && onEnter()}
        />
        <Temperature line={line} tag={tag} store={store} />
      </div>
      {laid && !line.cells.trim() && asRead(laid) && laid.cells_at && (
        <p className="number mt-0.5 text-small text-ink-soft">
          {asRead(laid)} V{laid.pack_v === null ? "" : " in all"}, read {timeWords(laid.cells_at, p)}
          {laid.cells_by === "charger" ? " by the charger" : ""}
        </p>
      )}
      {wrong && (
        <p id={`${id}-wrong`} role="alert" className="text-small text-alert">
          {wrong}
        </p>
      )}
      {edited && line.source === "typed" && <TypoNote tag={tag} cells={line.cells ?? ""} onUse={type} />}
      <div className="mt-1 flex flex-wrap items-baseline gap-x-3 gap-y-1 text-small">
        {laid && <LookPart tag={tag} lookedAt={laid.looked_at} signs={laid.signs} disabled={condemned} />}
        {plan.checker && (
          <button type="button" className="action" onClick={() => void readOne(queries, store, line.pack)}>
            {line.cells ? (
              <>
                Read<span className="sr-only"> again</span>
              </>
            ) : (
              "Read with the checker"
            )}
          </button>
        )}
      </div>
      {laid && <Findings laid={laid} />}
    </li>
  );
}

function Temperature({ line, tag, store }: { line: LaidAsk; tag: string; store: BenchStore }) {
  const p = usePreferences();
  const [draft, setDraft] = useState<string | undefined>();
  const kept = line.temperature_c === null ? "" : typed("temperature", line.temperature_c, p);
  const said = draft?.trim() ? parsed("temperature", draft, p) : undefined;
  const wrong = said && "problem" in said ? said.problem : undefined;
  const take = (text: string) => {
    setDraft(text);
    if (text.trim() === "") store.changePack(line.pack, { temperature_c: null, read_at: moment() });
    const now = parsed("temperature", text, p);
    if ("value" in now)
      store.changePack(line.pack, { temperature_c: now.value, source: "typed", read_at: moment() });
  };
  return (
    <span className="flex items-baseline">
      <input
        aria-label={`Temperature of ${tag}, in ${unitOf("temperature", p)}`}
        inputMode="decimal"
        autoComplete="off"
        placeholder="–"
        className="number field w-10 py-0.5 text-right text-plain"
        value={draft ?? kept}
        aria-invalid={wrong ? true : undefined}
        title={wrong}
        onChange={(e) => take(e.target.value)}
        onBlur={() => !wrong && setDraft(undefined)}
      />
      <span className="unit">{unitOf("temperature", p)}</span>
    </span>
  );
}

function Findings({ laid }: { laid: Laid }) {
  const act = useAct();
  const stops = laid.outcome !== "pass";
  const retiring = laid.findings.filter((f) => f.outcome === "retire");
  const sign = retiring.find((f) => f.id !== "unfit") ?? retiring[0];
  const why = sign?.id === "unfit" ? "not to be used" : (sign?.id ?? "");
  const retire = () => act(changeVerb(() => takeOutOfUse(laid.pack, why), "It could not be kept."));
  const marked = laid.findings.some((f) => f.id === "unfit");
  // what makes it unfit says more than that it is
  const hidden = new Set([
    "unread",
    "unlooked",
    "charging",
    ...(sign && sign.id !== "unfit" ? ["unfit"] : []),
  ]);
  return (
    <>
      {laid.findings
        .filter((f) => !hidden.has(f.id))
        .map((f) => (
          <p
            key={f.id}
            className={`mt-1 border-l-4 pl-2 text-small leading-4.25
              ${f.outcome === "pass" ? "border-rule-strong text-ink-soft" : "border-alert font-medium"}`}
          >
            {f.sentence}
          </p>
        ))}
      {laid.bars && (
        <p className="mt-1 text-small">
          <Link to="/pack/$tag" params={{ tag: laid.tag }} className="action">
            {laid.level === "retire" ? "Why, and how to retire it" : "Its page"}
          </Link>
        </p>
      )}
      {stops && laid.outcome === "retire" && (
        <div className="mt-1.5 text-small">
          {!marked && (
            <button type="button" className="control text-small" onClick={() => void retire()}>
              Take {laid.tag} out of use
            </button>
          )}
        </div>
      )}
    </>
  );
}

/** So few packs are laid out by a press each. */
const FEW = 4;

function AddPack({ store }: { store: BenchStore }) {
  const { data: owned = [] } = useQuery(ownedQuery);
  const there = new Set(store.bench.laid.map((x) => x.pack));
  const rest = owned.filter((p) => !there.has(ownedId(p.tag)));
  const add = (pack: string) =>
    store.change(`Laid out ${tagOf(pack)}`, {
      laid: [...store.bench.laid, newLine(pack)],
    });
  return (
    <div className="print-hidden mt-3 flex flex-wrap items-center gap-x-4 gap-y-2">
      {rest.length <= FEW &&
        rest.map((p) => (
          <button key={p.tag} type="button" className="control" onClick={() => add(ownedId(p.tag))}>
            Lay out {p.tag}
          </button>
        ))}
      <Pick
        label="Lay out a pack"
        placeholder="Lay out a pack…"
        options={rest.map((p) => ({ id: ownedId(p.tag), name: `${p.tag} ${p.name}` }))}
        onPick={add}
      />
      <Link
        to="/gear/$kind"
        params={{ kind: "packs" }}
        search={{ edit: "new" }}
        className="action text-plain"
      >
        A new pack…
      </Link>
    </div>
  );
}
