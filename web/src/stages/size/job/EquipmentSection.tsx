import { useQuery } from "@tanstack/react-query";
import type { Equipment, Job } from "@/api/types";
import { choicesQuery } from "@/app/queries";
import type { JobEditing } from "@/app/useJob";
import { EquipmentFields } from "@/gear/EquipmentFields";
import { fieldsOf } from "@/parts/fieldsOf";
import { Section } from "@/stages/size/job/Section";

type Props = { store: JobEditing; problems: ReadonlyMap<string, string> };

/** What equipment takes, in place of a model's draw and limits; and the plug and room of the pack. */
export function EquipmentSection({ store, problems }: Props) {
  const { job } = store;
  const { data: choices } = useQuery(choicesQuery);
  const put = (words: string, part: Partial<Equipment>) =>
    store.change(words, (now) => ({
      ...now,
      equipment: now.equipment && { ...now.equipment, ...part },
    }));
  const plug = fieldsOf({
    values: job.electronics,
    at: "electronics.",
    problems,
    assumed: store.confirm,
    put: (words, part: Partial<Job["electronics"]>) =>
      store.change(words, (now) => ({ ...now, electronics: { ...now.electronics, ...part } })),
  });
  const room = fieldsOf({
    values: job.bay,
    at: "bay.",
    problems,
    put: (words, part: Partial<Job["bay"]>) =>
      store.change(words, (now) => ({ ...now, bay: { ...now.bay, ...part } })),
  });
  if (!job.equipment) return null;
  return (
    <>
      <Section title="What it takes">
        <EquipmentFields values={job.equipment} problems={problems} put={put} assumed={store.confirm} />
      </Section>
      <Section title="Plug, leads and room">
        {plug.choice("plug", "Plug", choices?.plugs ?? [])}
        {plug.number("lead_awg", "Its leads", "gauge", 1, { given: true })}
        {room.number("length_mm", "Room, length", "length", 1)}
        {room.number("width_mm", "Room, width", "length", 1)}
        {room.number("height_mm", "Room, height", "length", 1)}
        {room.number("air_c", "Air temperature", "temperature", 1, { given: true })}
      </Section>
    </>
  );
}
