import { Fragment } from "react";
import type { Laid, Sharing } from "@/api/types";
import { usePreferences } from "@/format/preferences";
import { worded } from "@/format/quantity";
import { secondsWords } from "@/format/time";

export function Tag({ laid }: { laid: Laid | string }) {
  return (
    <span className="number text-plain font-semibold">{typeof laid === "string" ? laid : laid.tag}</span>
  );
}

/** The rush between joined packs, in words with numbers. */
export function Rush({ sharing, tags }: { sharing: Sharing; tags: string[] }) {
  const p = usePreferences();
  if (sharing.currents_a.length === 0) return null;
  const over = Math.max(...sharing.over_s);
  const within = over > 0 ? `within bounds after ${secondsWords(over)}, ` : "";
  const calm =
    sharing.calm_s === null
      ? "not calm within four hours"
      : sharing.calm_s < 1
        ? "calm at once"
        : `calm after ${secondsWords(sharing.calm_s)}`;
  return (
    <p className="text-small text-ink-soft">
      When joined:{" "}
      {sharing.currents_a.map((a, i) => (
        <Fragment key={tags[i]}>
          {/* the comma and its space stay outside: there the line may break */}
          {i > 0 && ", "}
          <span className="whitespace-nowrap">
            {tags[i]} {a > 0 ? "takes" : "gives"} {worded("current", Math.abs(a), p)}
          </span>
        </Fragment>
      ))}
      ; {within}
      {calm}.
    </p>
  );
}
