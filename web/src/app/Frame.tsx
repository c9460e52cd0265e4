import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Link, Outlet, useNavigate, useParams, useSearch } from "@tanstack/react-router";
import { Fragment, lazy, Suspense, useEffect, useMemo, useRef, useState } from "react";
import { AlarmBar } from "@/app/AlarmBar";
import { hearOthers } from "@/app/elsewhere";
import { useKeys } from "@/app/keys";
import { LineLine } from "@/app/LineLine";
import { ModelSwitcher } from "@/app/ModelSwitcher";
import { Notices } from "@/app/Notices";
import { usePickOf } from "@/app/picked";
import { choicesQuery } from "@/app/queries";
import { carried, STAGES } from "@/app/stages";
import { redo, undo } from "@/app/undo";
import { useLastModel } from "@/app/useLastModel";
import { GoTo, WorldLine } from "@/app/WorldLine";
import { useWanted } from "@/app/waiting";
import { worldQuery } from "@/app/world";
import { usePreferences } from "@/format/preferences";
import { Mark } from "@/parts/Mark";

const CommandList = lazy(() => import("@/app/CommandList"));
const Lines = lazy(() => import("@/app/Lines"));
const HelpDialog = lazy(() => import("@/app/HelpDialog"));
const PhonesSheet = lazy(() => import("@/phones/PhonesSheet"));

const WORD =
  "px-0.5 py-1 font-semibold text-ink-faint data-[status=active]:border-b-2 " +
  "data-[status=active]:border-fjord data-[status=active]:text-ink";

/** The top line and what hangs on it: model, stages, command list, help. */
export function Frame() {
  const [open, setOpen] = useState<"commands" | "help" | "phones" | undefined>();
  const navigate = useNavigate();
  const last = useLastModel();
  const { model = last } = useParams({ strict: false });
  const search = useSearch({ strict: false });
  const pick = usePickOf(model);
  const { data: choices } = useQuery(choicesQuery);
  const { data: world } = useQuery(worldQuery);
  const keys = useMemo(
    () => ({
      "mod+k": () => setOpen("commands"),
      "?": () => setOpen("help"),
      "mod+z": undo,
      "mod+shift+z": redo,
      "mod+y": redo,
      "6": () => void navigate({ to: "/practice" }),
      ...Object.fromEntries(
        STAGES.map((stage) => [
          stage.key,
          () =>
            void navigate({
              to: stage.to,
              params: { model },
              search: carried(stage.to, search, pick),
            }),
        ]),
      ),
    }),
    [navigate, model, search, pick],
  );
  useKeys(keys);
  const queries = useQueryClient();
  useEffect(() => hearOthers(queries), [queries]);
  useUnits();
  const wanted = useWanted();
  const close = () => setOpen(undefined);
  return (
    <div className="flex min-h-dvh flex-col">
      <a href="#main" className="primary absolute left-2 top-2 z-50 -translate-y-16 focus:translate-y-0">
        Skip to the work
      </a>
      <header
        className="flex min-h-14 flex-wrap items-center gap-x-2.5 gap-y-1 border-b px-4 py-2 sm:gap-x-6
        md:px-6"
      >
        <Link to="/" className="flex items-center gap-2.5 text-lead font-bold tracking-tight">
          <Mark />
          <span className="sr-only sm:not-sr-only">Cold Stack</span>
        </Link>
        <ModelSwitcher />
        <nav
          aria-label="Stages"
          className="order-last flex basis-full flex-wrap items-center justify-between gap-1 sm:order-none
            sm:ml-auto sm:basis-auto sm:justify-start sm:gap-2"
        >
          {STAGES.map((stage, i) => (
            <Fragment key={stage.name}>
              {i > 0 && (
                <span aria-hidden="true" className="h-px max-w-8 flex-1 bg-rule-strong sm:w-4 sm:flex-none" />
              )}
              <Link
                to={stage.to}
                params={{ model }}
                search={carried(stage.to, search, pick)}
                activeOptions={{ includeSearch: false }}
                className={WORD}
              >
                {stage.name}
              </Link>
            </Fragment>
          ))}
          {/* no step of the work: after a gap, and no line to it */}
          <Link to="/practice" activeOptions={{ includeSearch: false }} className={`${WORD} sm:ml-4`}>
            Practice
          </Link>
        </nav>
        <button
          type="button"
          className="control ml-auto text-small sm:ml-0"
          onClick={() => setOpen("commands")}
        >
          Find<span className="hidden sm:inline"> or do</span>{" "}
          <kbd className="number ml-1 hidden text-fine text-ink-faint md:inline">Ctrl K</kbd>
        </button>
        <button
          type="button"
          className="control hidden text-small sm:block"
          aria-label="Help, keys and words"
          onClick={() => setOpen("help")}
        >
          ?
        </button>
      </header>
      <WorldLine />
      <LineLine />
      <AlarmBar />
      <Suspense fallback={null}>
        {(wanted || (world && world.hands !== "here")) && <Lines onPhones={() => setOpen("phones")} />}
      </Suspense>
      <div id="main" className="flex flex-1 flex-col" tabIndex={-1}>
        <Outlet />
      </div>
      <footer className="no-print border-t px-4 py-2 text-small text-ink-faint md:px-6">
        {choices?.advice}{" "}
        <Link to="/safety" className="action">
          Safety
        </Link>{" "}
        ·{" "}
        <Link to="/rules" className="action">
          House rules
        </Link>
        {world?.world === "own" && (
          <>
            {" "}
            · You are in your own world. <GoTo world="demo" words="Look around in the demo" path="/" />
          </>
        )}
      </footer>
      <Notices />
      <Suspense fallback={null}>
        {open === "commands" && (
          <CommandList onClose={close} onHelp={() => setOpen("help")} onPhones={() => setOpen("phones")} />
        )}
        {open === "help" && <HelpDialog onClose={close} />}
        {open === "phones" && <PhonesSheet onClose={close} />}
      </Suspense>
    </div>
  );
}

/** What was said is written in the units of now, in whatever tab they were chosen. */
function useUnits(): void {
  const queries = useQueryClient();
  const { mass, length, temperature } = usePreferences();
  const units = [mass, length, temperature].join();
  const before = useRef(units);
  useEffect(() => {
    if (before.current !== units) void queries.invalidateQueries();
    before.current = units;
  }, [queries, units]);
}
