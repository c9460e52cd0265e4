import type { GearKind } from "@/api/types";
import { choicesQuery } from "@/app/queries";
import { had } from "@/app/ready";
import { isKind } from "@/gear/fields";
import { gearQuery } from "@/gear/queries";

/** The list of one kind before anything is painted. */
export async function ready({ kind }: { kind: GearKind }): Promise<void> {
  if (isKind(kind)) await Promise.all([had(gearQuery(kind)), had(choicesQuery)]);
}
