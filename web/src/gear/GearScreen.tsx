import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate, useParams, useSearch } from "@tanstack/react-router";
import { useCallback, useEffect, useMemo } from "react";
import type { GearKind } from "@/api/types";
import { useOffer } from "@/app/commands";
import { NotFound } from "@/app/NotFound";
import { ChangesPart } from "@/gear/ChangesPart";
import { GEAR, isKind, KINDS } from "@/gear/fields";
import { GearSheet } from "@/gear/GearSheet";
import { GearTable } from "@/gear/GearTable";
import { ImportSheet } from "@/gear/ImportSheet";
import { OffersSheet } from "@/gear/OffersSheet";
import { gearQuery } from "@/gear/queries";
import { LeadSheet, TwinSheet } from "@/gear/StartedSheets";
import { Failed } from "@/parts/Failed";
import { SearchField } from "@/parts/SearchField";
import { useTitle } from "@/parts/useTitle";
import { Waiting } from "@/parts/Waiting";

/**
 * What one owns and can buy: a list for each kind, to search, add, change, copy and delete; files in and
 * out.
 */
export function GearScreen() {
  const { kind } = useParams({ from: "/gear/$kind" });
  return isKind(kind) ? <Gear key={kind} kind={kind} /> : <NotFound />;
}

function Gear({ kind }: { kind: GearKind }) {
  const spec = GEAR[kind];
  const search = useSearch({ from: "/gear/$kind" });
  const navigate = useNavigate({ from: "/gear/$kind" });
  const { data: rows, error, refetch } = useQuery(gearQuery(kind));
  useTitle(spec.many);
  // a model is added by questions on a page of its own
  const adding = kind === "models" && search.edit === "new";
  useEffect(() => {
    if (adding) void navigate({ to: "/new", replace: true });
  }, [adding, navigate]);
  const set = useCallback(
    (part: Partial<typeof search>, replace = false) =>
      void navigate({ search: (old) => ({ ...old, ...part }), replace, resetScroll: false }),
    [navigate],
  );
  const commands = useMemo(
    () => [{ id: `add-here-${kind}`, name: spec.add, hint: "here", run: () => set({ edit: "new" }) }],
    [kind, spec.add, set],
  );
  useOffer("gear", commands);
  const edited = search.edit === "new" ? undefined : rows?.find((row) => row.id === search.edit);
  return (
    <main className="flex-1 px-4 py-5 md:px-6">
      <h1 className="text-title font-semibold">{spec.many}</h1>
      <Kinds kind={kind} />
      <div className="mt-4 flex flex-wrap items-end gap-x-4 gap-y-2">
        <p className="mr-auto max-w-prose text-ink-soft">{spec.about}</p>
        <SearchField
          label={`Search ${spec.many.toLowerCase()}`}
          placeholder="Search"
          className="w-44"
          value={search.find ?? ""}
          onChange={(words) => set({ find: words || undefined }, true)}
        />
        {kind === "catalogue" && (
          <button type="button" className="control" onClick={() => set({ offers: true })}>
            Paste offers…
          </button>
        )}
        <button type="button" className="control" onClick={() => set({ files: true })}>
          Import, export…
        </button>
        <button type="button" className="primary" onClick={() => set({ edit: "new" })}>
          {spec.add}
        </button>
      </div>
      {error && !rows && <Failed error={error} onRetry={() => void refetch()} />}
      {!rows && !error && <Waiting words={`Fetching ${spec.many.toLowerCase()}…`} className="mt-6" />}
      {rows && (
        <GearTable
          kind={kind}
          rows={rows}
          find={search.find ?? ""}
          onEdit={(id) => set({ edit: id })}
          onTwin={(id) => set({ twin: id })}
        />
      )}
      {rows && <ChangesPart />}
      {((search.edit === "new" && !adding) || edited) && (
        <GearSheet
          kind={kind}
          row={edited}
          onClose={() => set({ edit: undefined })}
          onAdded={kind === "chargers" ? (id) => set({ lead: id }) : undefined}
        />
      )}
      {search.twin !== undefined && (
        <TwinSheet key={search.twin} kind={kind} id={search.twin} onClose={() => set({ twin: undefined })} />
      )}
      {kind === "chargers" && search.lead !== undefined && (
        <LeadSheet key={search.lead} charger={search.lead} onClose={() => set({ lead: undefined })} />
      )}
      {kind === "catalogue" && search.offers && <OffersSheet onClose={() => set({ offers: undefined })} />}
      {search.files && <ImportSheet kind={kind} onClose={() => set({ files: undefined })} />}
    </main>
  );
}

function Kinds({ kind }: { kind: GearKind }) {
  return (
    <nav aria-label="Kinds of gear" className="mt-2 flex flex-wrap gap-x-4 gap-y-1 border-b">
      {KINDS.map((k) => (
        <Link
          key={k}
          to="/gear/$kind"
          params={{ kind: k }}
          aria-current={k === kind ? "page" : undefined}
          className={`-mb-px border-b-2 py-1.5 ${
            k === kind ? "border-fjord font-semibold" : "border-transparent text-ink-faint hover:text-ink"
          }`}
        >
          {GEAR[k].many}
        </Link>
      ))}
    </nav>
  );
}
