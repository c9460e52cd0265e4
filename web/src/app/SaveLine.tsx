import { useSyncExternalStore } from "react";
import type { DocumentStore } from "@/app/documentStore";
import type { Clash } from "@/app/merge";

export type Saving = Pick<DocumentStore<unknown>, "save" | "listen" | "choose">;
/** Quiet: only what went wrong or is asked. Asking: only what is asked. */
type Props = { of: Saving; quiet?: boolean; asking?: boolean };

/**
 * Whether what is edited is kept, in one word, shown one way; and what is asked where it was changed
 * elsewhere too.
 */
export function SaveLine({ of, quiet, asking }: Props) {
  const save = useSyncExternalStore(of.listen, () => of.save);
  if (save.at === "asked")
    return (
      <div role="alert" className="border-l-4 border-alert pl-2 text-plain">
        <p>
          Changed here and elsewhere:{" "}
          <strong className="font-semibold">{save.clashes.map(told).join(", ")}</strong>. Which counts?
        </p>
        <p className="mt-1 flex flex-wrap gap-2">
          <button type="button" className="control text-small" onClick={() => void of.choose("mine")}>
            What is here
          </button>
          <button type="button" className="control text-small" onClick={() => void of.choose("theirs")}>
            What was kept elsewhere
          </button>
        </p>
      </div>
    );
  const words = save.at === "saved" ? "Saved" : save.at === "saving" ? "Saving…" : "Not saved";
  if (asking || (quiet && save.at !== "failed")) return null;
  return (
    <span role="status" className={save.at === "failed" ? "text-alert" : ""}>
      {words}
      {save.at === "failed" && `: ${save.why}`}
    </span>
  );
}

/** The figure with both its values, where they are short enough to be said. */
function told({ path, mine, theirs }: Clash): string {
  const short = (x: unknown) => typeof x === "number" || (typeof x === "string" && x.length < 40);
  return short(mine) && short(theirs) ? `${named(path)}, ${mine} here and ${theirs} there` : named(path);
}

/** A figure's place in its document as one says it: "draw.average_a" → "average (draw)". */
function named(path: string): string {
  const [last = "", ...before] = path.split(".").reverse();
  const words = (x: string) => x.replace(/_(a|v|g|s|c|mm|mah|mohm)$/, "").replaceAll("_", " ");
  const name = words(last.replace(/^owned:/, ""));
  return before.length > 0 ? `${name} (${before.reverse().map(words).join(", ")})` : name;
}
