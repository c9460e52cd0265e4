import { Fragment } from "react";
import type { Laid, Sharing } from "@/api/types";
import { usePreferences } from "@/format/preferences";
import { worded } from "@/format/quantity";

export function Tag({ laid }: { laid: Laid | string }) {
  return (
    <span className="number text-[13px] font-semibold">{typeof laid === "string" ? laid : laid.tag}</span>
  );
}

/** The rush between joined packs, in words with numbers. */
export function Rush({ sharing, tags }: { sharing: Sharing; tags: string[] }) {
  const p = usePreferences();
  if (sharing.currents_a.length === 0) return null;
  const calm =
    sharing.calm_s === null
      ? "not calm within four hours"
      : sharing.calm_s < 1
        ? "calm at once"
        : sharing.calm_s < 90
          ? `under 1 A after ${Math.ceil(sharing.calm_s)} s`
          : `under 1 A after ${Math.ceil(sharing.calm_s / 60)} min`;
  return (
    <p className="text-[12.5px] text-ink-soft">
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
      ; {calm}.
    </p>
  );
}
