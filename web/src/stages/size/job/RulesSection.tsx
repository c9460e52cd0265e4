import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { memo } from "react";
import type { Job } from "@/api/types";
import { choicesQuery } from "@/app/queries";
import type { JobEditing } from "@/app/useJob";
import { ChoiceField } from "@/parts/ChoiceField";
import { Section } from "@/stages/size/job/Section";

type Props = { store: JobEditing; problems: ReadonlyMap<string, string> };

/** Which school's rules count, and how far labels are trusted. */
export const RulesSection = memo(function RulesSection({ store, problems }: Props) {
  const { data: choices } = useQuery(choicesQuery);
  const { job } = store;
  return (
    <Section title="House rules" last>
      <ChoiceField
        label="Set"
        value={job.house_rules}
        choices={choices?.house_rules ?? []}
        problem={problems.get("house_rules")}
        showNote
        onChange={(id) => store.change("house rules", (j) => ({ ...j, house_rules: id }))}
      />
      <Link to="/rules" search={{ set: job.house_rules }} className="action text-small">
        Every rule of it, and why
      </Link>
      <div className="mt-2">
        <ChoiceField
          label="Labels are taken"
          value={job.label_trust}
          choices={choices?.label_trusts ?? []}
          showNote
          onChange={(id) =>
            store.change("label trust", (j) => ({ ...j, label_trust: id as Job["label_trust"] }))
          }
        />
      </div>
    </Section>
  );
});
