import { keepPreviousData, queryOptions, useQuery } from "@tanstack/react-query";
import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import { useEffect, useState } from "react";
import { answered, client } from "@/api/client";
import type { PackTag } from "@/api/types";
import { StageWaiting } from "@/parts/StageWaiting";
import { useTitle } from "@/parts/useTitle";
import { TextField } from "@/ui/TextField";

const KEY = "cold-stack.tags-address";

const tagsQuery = (address: string) =>
  queryOptions({
    queryKey: ["gear", "tags", address],
    meta: { reads: ["life", "gear", "rules"] },
    queryFn: ({ signal }): Promise<PackTag[]> =>
      answered(client.GET("/api/keep/tags", { params: { query: { address } }, signal })),
    placeholderData: keepPreviousData,
    retry: false,
  });

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
  const { data, error } = useQuery(tagsQuery(address));
  useTitle("Tags");
  useEffect(() => {
    try {
      localStorage.setItem(KEY, address);
    } catch {
      // it is asked again next time
    }
  }, [address]);
  if (!data && !error) return <StageWaiting heading="Tags to print" words="Making the tags…" />;
  const all = data ?? [];
  const chosen = packs ? all.filter((t) => packs.includes(t.tag)) : all;
  const toggle = (tag: string) => {
    const now = packs ?? all.map((t) => t.tag);
    const next = now.includes(tag) ? now.filter((t) => t !== tag) : [...now, tag];
    void navigate({ search: { packs: next.length === all.length ? undefined : next }, replace: true });
  };
  return (
    <main
      className="mx-auto w-full max-w-5xl flex-1 px-4 py-5 md:px-6 print:m-0 print:max-w-none print:p-0"
      aria-busy={!data && !error}
    >
      <div className="print-hidden">
        <div className="flex flex-wrap items-baseline gap-x-5 gap-y-1">
          <h1 className="text-title font-semibold">Tags to print</h1>
          <p className="text-ink-soft">
            {chosen.length} tag{chosen.length === 1 ? "" : "s"}, 60 × 30 mm, three to a row on A4.
          </p>
          <button
            type="button"
            className="primary ml-auto"
            disabled={chosen.length === 0 || Boolean(error)}
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
        {data && all.length > 0 && (
          <p className="mt-3 flex flex-wrap gap-x-3 gap-y-1 text-plain">
            {all.map((t) => (
              <label key={t.tag} className="flex items-center gap-1">
                <input
                  type="checkbox"
                  checked={!packs || packs.includes(t.tag)}
                  onChange={() => toggle(t.tag)}
                />
                <span className="number">{t.tag}</span>
              </label>
            ))}
            <button
              type="button"
              className="action"
              onClick={() =>
                void navigate({ search: packs?.length === 0 ? {} : { packs: [] }, replace: true })
              }
            >
              {packs?.length === 0 ? "All" : "None"}
            </button>
          </p>
        )}
      </div>
      {data && all.length === 0 && (
        <p className="mt-4">
          <Link to="/gear/$kind" params={{ kind: "packs" }} search={{ edit: "new" }} className="primary">
            Add a pack
          </Link>
        </p>
      )}
      <ul className="mt-5 flex flex-wrap print:mt-0">
        {chosen.map((t) => (
          <li
            key={t.tag}
            className="flex h-[30mm] w-[60mm] break-inside-avoid items-center gap-[2.5mm] border
              border-dashed border-rule-strong bg-white p-[2.5mm] text-[#0f1d25]"
          >
            <img src={t.code} alt={`Code of pack ${t.tag}: ${t.address}`} className="size-[22mm] shrink-0" />
            <div className="min-w-0">
              <p className="number whitespace-nowrap text-title font-bold leading-6">{t.tag}</p>
              <p className="line-clamp-2 text-fine font-semibold leading-[12.5px]">{t.name}</p>
              <p className="text-fine leading-[12.5px]">{t.kind}</p>
              {t.charging.map((line) => (
                <p key={line} className="text-fine leading-[12.5px]">
                  {line}
                </p>
              ))}
            </div>
          </li>
        ))}
      </ul>
    </main>
  );
}
