import { useQuery } from "@tanstack/react-query";
import { choicesQuery, ownedQuery } from "@/app/queries";
import { ownedId } from "@/format/packId";
import type { Asked } from "@/newmodel/answers";
import { OneOf, Question } from "@/newmodel/Question";
import { ChoiceField } from "@/parts/ChoiceField";
import { NumberField } from "@/parts/NumberField";

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
export function NowQuestion({ answers, problems, set }: Asked) {
  const { data: packs = [] } = useQuery(ownedQuery);
  const { data: choices } = useQuery(choicesQuery);
  const { now } = answers;
  const put = (part: Partial<typeof now>) => set({ now: { ...now, ...part } });
  const mine = now.pack !== null;
  const each = now.joined === "" ? "" : ", each";
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
        <div className="max-w-md">
          <ChoiceField
            label="Pack"
            value={now.pack ?? ""}
            choices={packs.map((p) => ({ id: ownedId(p.tag), name: `${p.tag} ${p.name}`, note: "" }))}
            problem={problems.get("now.pack")}
            onChange={(pack) => put({ pack })}
          />
        </div>
      ) : (
        <div className="grid gap-x-10 sm:grid-cols-2">
          <NumberField
            label={`Cells in series (S)${each}`}
            kind="count"
            step={1}
            optional
            placeholder="—"
            value={now.series}
            problem={problems.get("now.series")}
            onChange={(series) => put({ series })}
          />
          <NumberField
            label={`Capacity${each}`}
            kind="capacity"
            step={0.1}
            optional
            placeholder="—"
            value={now.capacity_ah}
            problem={problems.get("now.capacity_ah")}
            onChange={(capacity_ah) => put({ capacity_ah })}
          />
          <NumberField
            label={each ? "Mass of each pack" : "Mass of the pack"}
            kind="mass"
            step={5}
            optional
            placeholder="—"
            value={now.mass_g}
            problem={problems.get("now.mass_g")}
            onChange={(mass_g) => put({ mass_g })}
          />
          <NumberField
            label="C on its label"
            kind="c_rate"
            step={5}
            optional
            placeholder="—"
            value={now.label_c}
            problem={problems.get("now.label_c")}
            onChange={(label_c) => put({ label_c })}
          />
          <ChoiceField
            label="Chemistry"
            value={now.chemistry}
            choices={choices?.chemistries ?? [{ id: "lipo", name: "LiPo", note: "" }]}
            onChange={(id) => put({ chemistry: id as typeof now.chemistry })}
          />
        </div>
      )}
    </Question>
  );
}
