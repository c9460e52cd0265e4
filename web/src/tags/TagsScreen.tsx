import { keepPreviousData, queryOptions, useQuery } from "@tanstack/react-query";
import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import { useEffect, useState } from "react";
import { answered, client } from "@/api/client";
import type { PackTag } from "@/api/types";
import { ownedQuery } from "@/app/queries";
import { Pick } from "@/parts/Pick";
import { StageWaiting } from "@/parts/StageWaiting";
import { TextField } from "@/parts/TextField";
import { useRows } from "@/parts/useRows";
import { useSlow } from "@/parts/useSlow";
import { useTitle } from "@/parts/useTitle";

const KEY = "cold-stack.tags-address";

/** So many codes are drawn at a time: what takes long is seen to go on. */
const AT_ONCE = 60;
/** Fewer packs than this are ticked one by one; of more those wanted are named. */
const TICKED = 40;
const ACROSS = 3;
/** 30 mm, and the frame. */
const ROW_PX = 115;

const tagsQuery = (address: string, tags: string[], onMade: (many: number) => void) =>
  queryOptions({
    queryKey: ["gear", "tags", address, tags],
    meta: { reads: ["life", "gear", "rules"] },
    queryFn: async ({ signal }) => {
      const made: PackTag[] = [];
      for (const some of portions(tags, AT_ONCE)) {
        const query = { address, tags: some };
        made.push(...(await answered(client.GET("/api/keep/tags", { params: { query }, signal }))));
        onMade(made.length);
      }
      return made;
    },
    placeholderData: keepPreviousData,
    retry: false,
  });

function portions<T>(all: readonly T[], size: number): T[][] {
  return Array.from({ length: Math.ceil(all.length / size) }, (_, k) => all.slice(k * size, (k + 1) * size));
}

function keptAddress(): string {
  try {
    return localStorage.getItem(KEY) ?? window.location.origin;
  } catch {
    return window.location.origin;
  }
}

/**
 * Tags to print, cut out and tape to packs: what it is, how it is charged, and a code that opens its page.
 */
export function TagsScreen() {
  const { packs } = useSearch({ from: "/tags" });
  const navigate = useNavigate({ from: "/tags" });
  const [address, setAddress] = useState(keptAddress);
  const { data: owned, error: noPacks } = useQuery(ownedQuery);
  const wanted = (owned ?? []).map((p) => p.tag).filter((tag) => !packs || packs.includes(tag));
  const [made, setMade] = useState(0);
  const query = useQuery({ ...tagsQuery(address, wanted, setMade), enabled: owned !== undefined });
  const { data: tags = [], error, isFetching: pending } = query;
  const slow = useSlow(pending);
  const rows = portions(tags, ACROSS);
  const list = useRows<HTMLUListElement>(rows.length, ROW_PX);
  useTitle("Tags");
  useEffect(() => {
    try {
      localStorage.setItem(KEY, address);
    } catch {
      // it is asked again next time
    }
  }, [address]);
  if (!owned || query.isLoading)
    return (
      <StageWaiting
        heading="Tags to print"
        words={made > 0 ? `Making the tags: ${made} of ${wanted.length}…` : "Making the tags…"}
        error={noPacks}
      />
    );
  const all = owned.map((p) => p.tag);
  const only = (next: string[]) =>
    void navigate({ search: { packs: next.length === all.length ? undefined : next }, replace: true });
  const toggle = (tag: string) =>
    only(wanted.includes(tag) ? wanted.filter((t) => t !== tag) : [...wanted, tag]);
  const ticked = all.length <= TICKED ? all : packs ? wanted : [];
  return (
    <main
      className="mx-auto w-full max-w-5xl flex-1 px-4 py-5 md:px-6 print:m-0 print:max-w-none print:p-0"
      aria-busy={pending}
    >
      <div className="print-hidden">
        <div className="flex flex-wrap items-baseline gap-x-5 gap-y-1">
          <h1 className="text-title font-semibold">Tags to print</h1>
          <p className="text-ink-soft">
            {pending && slow
              ? `${made} of ${wanted.length} tags are made so far…`
              : `${wanted.length} tag${wanted.length === 1 ? "" : "s"}, 60 × 30 mm, three to a row on A4.`}
          </p>
          <button
            type="button"
            className="primary ml-auto"
            disabled={tags.length === 0 || pending || Boolean(error)}
            onClick={() => window.print()}
          >
            Print
          </button>
        </div>
        <div className="mt-2 max-w-md">
          <TextField
            label="Address of this program, as your phone reaches it"
            value={address}
            problem={error?.message}
            hint={
              "Each code opens its pack’s page there. For phones in the same network, start the program " +
              "with --host and this machine’s address."
            }
            onChange={setAddress}
          />
        </div>
        {all.length > TICKED && (
          <Pick
            label="Only these packs"
            placeholder={packs ? "Another pack…" : "All of them. Only this pack…"}
            className="mt-3 max-w-80"
            options={owned
              .filter((p) => !packs?.includes(p.tag))
              .map((p) => ({ id: p.tag, name: `${p.tag} ${p.name}` }))}
            onPick={(tag) => only([...(packs ?? []), tag])}
          />
        )}
        {all.length > 0 && (
          <p className="mt-3 flex flex-wrap gap-x-3 gap-y-1 text-plain">
            {ticked.map((tag) => (
              <label key={tag} className="flex items-center gap-1">
                <input type="checkbox" checked={wanted.includes(tag)} onChange={() => toggle(tag)} />
                <span className="number">{tag}</span>
              </label>
            ))}
            {(all.length <= TICKED || packs) && (
              <button
                type="button"
                className="action"
                onClick={() => only(packs?.length === 0 || all.length > TICKED ? all : [])}
              >
                {packs?.length === 0 || all.length > TICKED ? "All" : "None"}
              </button>
            )}
          </p>
        )}
      </div>
      {all.length === 0 && (
        <p className="mt-4">
          <Link to="/gear/$kind" params={{ kind: "packs" }} search={{ edit: "new" }} className="primary">
            Add a pack
          </Link>
        </p>
      )}
      <ul
        ref={list.box}
        className="mt-5 print:mt-0"
        style={{ paddingTop: list.before, paddingBottom: list.after }}
      >
        {list.shown.map((index) => (
          <li key={index} ref={list.measure} data-index={index} className="flex break-inside-avoid flex-wrap">
            {rows[index]?.map((t) => (
              <Tag key={t.tag} tag={t} />
            ))}
          </li>
        ))}
      </ul>
    </main>
  );
}

function Tag({ tag: t }: { tag: PackTag }) {
  return (
    <div
      className="flex h-[30mm] w-[60mm] items-center gap-[2.5mm] border border-dashed border-rule-strong
        bg-white p-[2.5mm] text-[#0f1d25]"
    >
      <img src={t.code} alt={`Code of pack ${t.tag}: ${t.address}`} className="size-[22mm] shrink-0" />
      <div className="min-w-0">
        <p className="number whitespace-nowrap text-title font-bold leading-6">{t.tag}</p>
        <p className="line-clamp-2 text-fine font-semibold leading-3.125">{t.name}</p>
        <p className="text-fine leading-3.125">{t.kind}</p>
        {t.charging.map((line) => (
          <p key={line} className="text-fine leading-3.125">
            {line}
          </p>
        ))}
      </div>
    </div>
  );
}
