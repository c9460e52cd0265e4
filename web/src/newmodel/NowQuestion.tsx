import { useQuery } from "@tanstack/react-query";
import { choicesQuery, ownedQuery } from "@/app/queries";
import { ownedId } from "@/format/packId";
import type { Asked } from "@/newmodel/answers";
import { NONE, Question } from "@/newmodel/Question";
import { fieldsOf } from "@/parts/fieldsOf";
import { OneOf } from "@/parts/OneOf";

const JOINED = [
  { id: "", name: "One pack" },
  { id: "series", name: "Two in series" },
  { id: "parallel", name: "Two side by side" },
] as const;

const WHICH = [
  { id: "cells", name: "Cells and mAh" },
  { id: "mine", name: "One of my packs" },
] as const;

/** What it runs on now: an owned pack, or cells × mAh with its mass. */
export function NowQuestion({ answers, problems, asked, set }: Asked) {
  const { data: packs = [] } = useQuery(ownedQuery);
  const { data: choices } = useQuery(choicesQuery);
  const { now } = answers;
  const put = (part: Partial<typeof now>) => set({ now: { ...now, ...part } });
  const mine = now.pack !== null;
  const each = now.joined === "" ? "" : ", each";
  const { number, choice } = fieldsOf({
    asked,
    values: now,
    at: "now.",
    problems,
    put: (_, part) => put(part),
  });
  const mineOf = packs.map((p) => ({ id: ownedId(p.tag), name: `${p.tag} ${p.name}`, note: "" }));
  return (
    <Question
      title="What does it run on now?"
      why="The draw is true for this pack; other packs are measured against it, so that it stays as lively."
    >
      <div className="mb-1.5">
        <OneOf
          label="One pack or two"
          value={now.joined}
          choices={JOINED}
          onChange={(joined) => put({ joined })}
        />
      </div>
      {packs.length > 0 && (
        <div className="mb-1.5">
          <OneOf
            label="Which pack"
            value={mine ? "mine" : "cells"}
            choices={WHICH}
            onChange={(id) => put({ pack: id === "mine" ? ownedId(packs[0]?.tag ?? "") : null })}
          />
        </div>
      )}
      {mine ? (
        <div className="max-w-md">{choice("pack", "Pack", mineOf)}</div>
      ) : (
        <div className="grid gap-x-10 sm:grid-cols-2">
          {number("series", `Cells in series (S)${each}`, "count", 1, NONE)}
          {number("capacity_ah", `Capacity${each}`, "capacity", 0.1, NONE)}
          {number("mass_g", each ? "Mass of each pack" : "Mass of the pack", "mass", 5, NONE)}
          {number("label_c", "C on its label", "c_rate", 5, NONE)}
          {choice("chemistry", "Chemistry", choices?.chemistries ?? [{ id: "lipo", name: "LiPo", note: "" }])}
        </div>
      )}
    </Question>
  );
}
