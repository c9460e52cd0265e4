import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "@tanstack/react-router";
import { useState } from "react";
import { ApiProblem } from "@/api/problem";
import type { PackPage } from "@/api/types";
import { worded } from "@/format/quantity";
import { Figure } from "@/parts/Figure";
import { toStorageQuery } from "@/stages/keep/queries";

/** How a pack gets to storage from where it is: on each charger, or by running it. */
export function StoragePart({ page }: { page: PackPage }) {
  const { model } = useParams({ from: "/keep/$model" });
  const [cells, setCells] = useState("");
  const tag = page.line.tag;
  const { data, error } = useQuery(toStorageQuery(tag, cells.trim(), model));
  if (page.line.bars || !page.has_storage) return null;
  const wrong = error instanceof ApiProblem ? error.message : error ? "Not worked out." : undefined;
  const ways = data?.ways.filter((w) => w.hours !== null) ?? [];
  return (
    <section aria-label="To storage" className="mt-5 border-t pt-3">
      <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
        <h3 className="heading">
          To storage{data?.target_cell_v ? `, ${worded("cell_voltage", data.target_cell_v)} a cell` : ""}
        </h3>
        <label className="text-small text-ink-faint">
          volts now{" "}
          <input
            autoComplete="off"
            placeholder="cells or pack"
            className="number field w-48 text-ink"
            value={cells}
            aria-invalid={wrong ? true : undefined}
            aria-describedby={wrong ? "to-storage-wrong" : undefined}
            onChange={(e) => setCells(e.target.value)}
          />
        </label>
      </div>
      {page.line.doing === "storage" && (
        <p
          className={`text-plain ${(page.line.in_h ?? 0) < 0 ? "font-semibold text-alert" : "text-ink-soft"}`}
        >
          <Figure working={page.workings.due} label="Due for storage" className="text-left">
            {(page.line.in_h ?? 0) < 0 ? "Overdue. " : ""}
            {page.line.due}
          </Figure>
        </p>
      )}
      {wrong && (
        <p id="to-storage-wrong" role="alert" className="text-small text-alert">
          {wrong}
        </p>
      )}
      {!wrong && data && (
        <>
          {data.reckoned === "" && (
            <p className="text-plain text-ink-soft">
              {data.why || "Read its cells, and the ways are worked out."}
            </p>
          )}
          {data.reckoned !== "" && <p className="text-small text-ink-faint">Reckoned {data.reckoned}.</p>}
          <dl className="mt-1 grid grid-cols-[auto_1fr] gap-x-5 gap-y-0.5 text-plain">
            {ways.map((w) => (
              <div key={w.charger} className="contents">
                <dt>{w.charger_name}</dt>
                <dd>
                  <Figure working={w.working} label={`To storage on ${w.charger_name}`} className="text-left">
                    <span className="number font-semibold">{w.time_words} </span>
                    <span className="text-ink-soft">{w.sentence}</span>
                  </Figure>
                </dd>
              </div>
            ))}
          </dl>
          {data.reckoned !== "" && ways.length === 0 && (
            <p className="text-plain text-ink-soft">No charger here brings it there.</p>
          )}
          {data.run_down && (
            <p className="mt-1 text-plain font-medium">
              {data.run_down}{" "}
              <Link to="/run/$model" params={{ model }} search={{ pack: tag }} className="action">
                Run it
              </Link>
            </p>
          )}
        </>
      )}
    </section>
  );
}
