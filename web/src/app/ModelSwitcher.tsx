import { useQuery } from "@tanstack/react-query";
import { useParams } from "@tanstack/react-router";
import { lazy, Suspense, useRef, useState } from "react";
import { modelsQuery } from "@/app/queries";
import { useLastModel } from "@/app/useLastModel";

const ModelMenu = lazy(() => import("@/app/ModelMenu"));

/** The model being worked on. Another one opens in the same stage. */
export function ModelSwitcher() {
  const last = useLastModel();
  const { model: slug = last } = useParams({ strict: false });
  const { data: models = [] } = useQuery(modelsQuery);
  const [open, setOpen] = useState(false);
  const button = useRef<HTMLButtonElement>(null);
  const here = models.find((m) => m.slug === slug);
  return (
    <div className="relative">
      <button
        ref={button}
        type="button"
        aria-haspopup="menu"
        aria-expanded={open}
        className="max-w-72 border-l py-0.5 pl-4 text-left leading-4.5 md:pl-6"
        onClick={() => setOpen(!open)}
        onKeyDown={(e) => {
          if (e.key !== "ArrowDown") return;
          e.preventDefault();
          setOpen(true);
        }}
      >
        <span className="font-semibold">
          {here?.name ?? (models.length > 0 ? "Choose a model" : "No model yet")}
        </span>
        <span aria-hidden="true" className="ml-1 text-ink-faint">
          ▾
        </span>
        <span className="hidden truncate text-small text-ink-faint md:block">{here?.description}</span>
      </button>
      {open && (
        <Suspense fallback={null}>
          <ModelMenu at={button} here={slug} models={models} onClose={() => setOpen(false)} />
        </Suspense>
      )}
    </div>
  );
}
