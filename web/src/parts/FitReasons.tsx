import { Link } from "@tanstack/react-router";
import type { Fit } from "@/api/types";

type Props = { fit: Fit; model: string; pack?: string | undefined };

/** Why a pack does not simply do the job, each with the place where that can be changed. */
export function FitReasons({ fit, model, pack }: Props) {
  if (fit.reasons.length === 0) return null;
  return (
    <ul className="mt-1 space-y-1 text-small leading-4.25">
      {fit.reasons.map((r) => (
        <li key={r.id} className={r.verdict === "wont" ? "font-semibold" : "text-ink-soft"}>
          {r.sentence} <Where where={r.where} model={model} pack={pack} />
        </li>
      ))}
    </ul>
  );
}

/** The way to the figure that decides it. */
function Where({ where, model, pack }: { where: string; model: string; pack: string | undefined }) {
  if (where.startsWith("house_rules."))
    return (
      <Link to="/rules" className="action font-normal underline underline-offset-2">
        House rules
      </Link>
    );
  if (where.startsWith("pack"))
    return pack === undefined ? null : (
      <Link
        to="/keep/$model"
        params={{ model }}
        search={{ pack }}
        className="action font-normal underline underline-offset-2"
      >
        Its page
      </Link>
    );
  if (where === "pieces")
    return (
      <Link
        to="/gear/$kind"
        params={{ kind: "pieces" }}
        className="action font-normal underline underline-offset-2"
      >
        Adapters
      </Link>
    );
  return where === "" ? null : (
    <Link to="/size/$model" params={{ model }} className="action font-normal underline underline-offset-2">
      The model’s figures
    </Link>
  );
}
