import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { memo } from "react";
import type { Job } from "@/api/types";
import { choicesQuery } from "@/app/queries";
import type { JobEditing } from "@/app/useJob";
import { ChoiceField } from "@/parts/ChoiceField";
import { Folded } from "@/parts/Folded";
import { Section } from "@/stages/size/job/Section";

type Props = { store: JobEditing; problems: ReadonlyMap<string, string> };

/** Which school's rules count, and how far labels are trusted. */
export const RulesSection = memo(function RulesSection({ store, problems }: Props) {
  const { data: choices } = useQuery(choicesQuery);
  const { job } = store;
  const rules = choices?.house_rules.find((x) => x.id === job.house_rules);
  const trust = choices?.label_trusts.find((x) => x.id === job.label_trust);
  return (
    <Section title="House rules" last>
      <ChoiceField
        label="Set"
        value={job.house_rules}
        choices={choices?.house_rules ?? []}
        problem={problems.get("house_rules")}
        onChange={(id) => store.change("house rules", (j) => ({ ...j, house_rules: id }))}
      />
      <div className="mt-2">
        <ChoiceField
          label="Labels are taken"
          value={job.label_trust}
          choices={choices?.label_trusts ?? []}
          onChange={(id) =>
            store.change("label trust", (j) => ({ ...j, label_trust: id as Job["label_trust"] }))
          }
        />
      </div>
      <Folded name="What they mean" className="mt-1 text-small text-ink-faint">
        {[rules, trust].map((chosen) => chosen?.note && <p key={chosen.id}>{chosen.note}</p>)}
        <Link to="/rules" search={{ set: job.house_rules }} className="action">
          Every rule of it, and why
        </Link>
      </Folded>
    </Section>
  );
});
