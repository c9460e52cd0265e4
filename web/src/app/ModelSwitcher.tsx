import { useQuery } from "@tanstack/react-query";
import { Link, useParams, useRouterState } from "@tanstack/react-router";
import { DropdownMenu } from "radix-ui";
import { modelsQuery } from "@/app/queries";
import { STAGES } from "@/app/stages";
import { useLastModel } from "@/app/useLastModel";
import { goToWorld, worldQuery } from "@/app/world";

const ITEM = "block px-4 py-1.5 outline-none data-[highlighted]:bg-hollow";

/** The model being worked on. Another one opens in the same stage. */
export function ModelSwitcher() {
  const last = useLastModel();
  const { model: slug = last } = useParams({ strict: false });
  const { data: models = [] } = useQuery(modelsQuery);
  // another model opens in the stage one is in
  const path = useRouterState({ select: (s) => s.location.pathname });
  const stage = STAGES.find((x) => path.startsWith(x.to.replace("$model", "")))?.to ?? "/size/$model";
  const { data: world } = useQuery(worldQuery);
  const here = models.find((m) => m.slug === slug);
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger className="max-w-72 border-l py-0.5 pl-4 text-left leading-[18px] md:pl-6">
        <span className="font-semibold">
          {here?.name ?? (models.length > 0 ? "Choose a model" : "No model yet")}
        </span>
        <span aria-hidden="true" className="ml-1 text-ink-faint">
          ▾
        </span>
        <span className="hidden truncate text-small text-ink-faint md:block">{here?.description}</span>
      </DropdownMenu.Trigger>
      {/* within the top line, not at the end of the page: readers find it where it belongs */}
      <DropdownMenu.Content
        align="start"
        sideOffset={6}
        className="z-40 max-h-[80vh] w-80 max-w-[92vw] overflow-y-auto border border-rule-strong bg-sheet
          py-1"
      >
        {models.map((m) => (
          <DropdownMenu.Item key={m.slug} asChild>
            <Link to={stage} params={{ model: m.slug }} className={ITEM}>
              <span className={m.slug === slug ? "font-bold" : "font-medium"}>{m.name}</span>
              <span className="block text-small text-ink-faint">{m.description}</span>
            </Link>
          </DropdownMenu.Item>
        ))}
        <DropdownMenu.Separator className="my-1 border-t" />
        <DropdownMenu.Item asChild>
          <Link to="/new" className={ITEM}>
            Add a model…
          </Link>
        </DropdownMenu.Item>
        <DropdownMenu.Item asChild>
          <Link to="/gear/$kind" params={{ kind: "packs" }} className={ITEM}>
            My gear: packs, chargers, leads…
          </Link>
        </DropdownMenu.Item>
        <DropdownMenu.Item asChild>
          <Link to="/rules" className={ITEM}>
            House rules…
          </Link>
        </DropdownMenu.Item>
        <DropdownMenu.Separator className="my-1 border-t" />
        <DropdownMenu.Item
          className={`${ITEM} w-full cursor-pointer text-left`}
          onSelect={() => void goToWorld(world?.world === "demo" ? "own" : "demo")}
        >
          {world?.world === "demo"
            ? "Leave the demo: my own world"
            : "Look around in the club’s world, the demo"}
        </DropdownMenu.Item>
      </DropdownMenu.Content>
    </DropdownMenu.Root>
  );
}
