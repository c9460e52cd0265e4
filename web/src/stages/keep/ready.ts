import { choicesQuery } from "@/app/queries";
import { had } from "@/app/ready";
import { pageQuery, placeQuery, shelfQuery } from "@/stages/keep/queries";
import { mostUrgent } from "@/stages/keep/urgent";

/** The shelf, where it stands, and the page that is open, before anything is painted. */
export async function ready({ pack }: { pack?: string | undefined }): Promise<void> {
  const page = async () => {
    const tag = pack ?? mostUrgent(await had(shelfQuery));
    if (tag) await had(pageQuery(tag));
  };
  await Promise.all([had(shelfQuery), had(placeQuery), had(choicesQuery), page()]);
}
