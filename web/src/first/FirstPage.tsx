import { useQueryClient } from "@tanstack/react-query";
import { Link, useNavigate } from "@tanstack/react-router";
import { useRef, useState } from "react";
import { answered, client } from "@/api/client";
import { wordsOf } from "@/api/problem";
import { notify } from "@/app/notices";
import { goToWorld } from "@/app/world";
import { useTitle } from "@/parts/useTitle";

/** Shown while there is no model of one's own: three doors, in words, with one picture of the stack. */
export function FirstPage() {
  const [opening, setOpening] = useState(false);
  useTitle();
  return (
    <main
      className="mx-auto grid w-full max-w-5xl flex-1 content-center gap-x-16 gap-y-8 px-5 py-10
      md:grid-cols-[1fr_15rem] md:px-6"
    >
      <div>
        <h1 className="text-display font-bold leading-9 tracking-tight">
          Which battery pack for this model?
        </h1>
        <p className="mt-2 max-w-prose text-ink-soft">
          Tell what you fly, drive or sail and what it runs on now. Cold Stack works out cells, capacity and
          C, checks plugs and chargers, plans the charging and keeps the log. It runs on this machine; nothing
          leaves it.
        </p>
        <ul className="mt-6 divide-y border-y">
          <li>
            <Link to="/new" className="group block py-4">
              <Door
                title="Begin with my model"
                words="A few questions on one page, two minutes. What you do not know is assumed in sight."
              />
            </Link>
          </li>
          <li>
            <Link to="/new-equipment" className="action block py-2 text-plain">
              Or with a radio, a receiver, goggles, a tool…
            </Link>
          </li>
          <li>
            <button
              type="button"
              className="group block w-full py-4 text-left"
              disabled={opening}
              onClick={async () => {
                setOpening(true);
                await goToWorld("demo");
                setOpening(false);
              }}
            >
              <Door
                title={opening ? "Opening the club’s world…" : "Look around in the club’s world"}
                words="An invented club: six models, packs, a year of its log. Apart from your own data."
              />
            </button>
          </li>
          <li>
            <BringFile />
          </li>
        </ul>
      </div>
      <StackPicture />
    </main>
  );
}

function Door({ title, words }: { title: string; words: string }) {
  return (
    <>
      <span
        className="text-lead font-semibold text-fjord group-hover:underline
        group-hover:underline-offset-4"
      >
        {title}
      </span>
      <span className="block text-ink-faint">{words}</span>
    </>
  );
}

/** A gear file goes to its preview; a backup is put in place here, since nothing is here yet. */
function BringFile() {
  const file = useRef<HTMLInputElement>(null);
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [state, setState] = useState<{ at: "idle" | "busy" } | { at: "failed"; why: string }>({ at: "idle" });
  const take = async (chosen: File | undefined) => {
    if (!chosen) return;
    setState({ at: "busy" });
    try {
      const data = new FormData();
      data.append("file", chosen);
      const { models } = await answered(
        client.POST("/api/files/restore", {
          body: data as unknown as { file: string },
          bodySerializer: (body) => body as unknown as FormData,
        }),
      );
      await queries.invalidateQueries();
      notify(`Restored ${chosen.name}: ${models} ${models === 1 ? "model" : "models"}.`);
      setState({ at: "idle" });
      void navigate({ to: "/" });
    } catch (problem) {
      setState({ at: "failed", why: wordsOf(problem, "It could not be read.") });
    }
  };
  return (
    <div className="py-4">
      <Door
        title="Bring a file or a backup"
        words="Gear as CSV or JSON with a preview, or the whole of a Cold Stack from elsewhere."
      />
      <div className="mt-2 flex flex-wrap gap-3">
        <Link to="/gear/$kind" params={{ kind: "packs" }} search={{ files: true }} className="control">
          Import gear…
        </Link>
        <button type="button" className="control" onClick={() => file.current?.click()}>
          {state.at === "busy" ? "Restoring…" : "Restore a backup…"}
        </button>
        <input
          ref={file}
          type="file"
          className="hidden"
          aria-label="Backup file"
          accept=".sqlite3"
          onChange={(e) => void take(e.target.files?.[0])}
        />
      </div>
      {state.at === "failed" && (
        <p role="alert" className="mt-2 border-l-4 border-alert pl-3">
          {state.why}
        </p>
      )}
    </div>
  );
}

const PLATES = [
  { name: "Cells", fill: 62, heat: 2 },
  { name: "Leads", fill: 38, heat: 1 },
  { name: "Plug", fill: 92, heat: 3, out: true },
  { name: "Controller", fill: 45, heat: 1 },
  { name: "Motor", fill: 30, heat: 0 },
] as const;

/** What the program is about, in one picture: a stack of links, the weakest slid out. */
function StackPicture() {
  return (
    <figure className="hidden self-center md:block">
      <svg viewBox="0 0 240 236" className="w-full" role="img">
        <title>A stack of five links from cells to motor; the plug, most loaded, has slid out.</title>
        {PLATES.map((p, i) => {
          const out = "out" in p;
          const x = out ? 0 : 22;
          const y = 6 + i * 46;
          return (
            <g key={p.name}>
              <rect
                x={x}
                y={y}
                width={214}
                height={36}
                fill="var(--sheet)"
                stroke={out ? "var(--ink)" : "var(--rule)"}
                strokeWidth={out ? 1.5 : 1}
              />
              <rect x={x + 8} y={y + 20} width={198} height={9} fill="var(--hollow)" />
              <rect x={x + 8} y={y + 20} width={1.98 * p.fill} height={9} fill={`var(--heat-${p.heat})`} />
              <text x={x + 8} y={y + 14} style={{ fontWeight: 600, fill: "var(--ink)" }}>
                {p.name}
              </text>
              <text className="tick" x={x + 206} y={y + 14} textAnchor="end">
                {p.fill} %
              </text>
            </g>
          );
        })}
      </svg>
      <figcaption className="mt-2 text-small text-ink-faint">
        A pack, its leads, plug, controller and motor are one chain. The weakest link slides out and says what
        would relieve it.
      </figcaption>
    </figure>
  );
}
