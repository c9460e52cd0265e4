import { useQuery } from "@tanstack/react-query";
import { Link, useRouterState } from "@tanstack/react-router";
import { DropdownMenu } from "radix-ui";
import type { RefObject } from "react";
import type { ModelLine } from "@/api/types";
import { STAGES } from "@/app/stages";
import { goToWorld, worldQuery } from "@/app/world";

const ITEM = "block px-4 py-1.5 outline-none data-[highlighted]:bg-hollow";

type Props = {
  at: RefObject<HTMLButtonElement | null>;
  here: string;
  models: readonly ModelLine[];
  onClose: () => void;
};

/** The models, and what else one goes to from there; opened under the button that shows the model. */
export default function ModelMenu({ at, here: slug, models, onClose }: Props) {
  // another model opens in the stage one is in
  const path = useRouterState({ select: (s) => s.location.pathname });
  const stage = STAGES.find((x) => path.startsWith(x.to.replace("$model", "")))?.to ?? "/size/$model";
  const { data: world } = useQuery(worldQuery);
  return (
    <DropdownMenu.Root modal={false} open onOpenChange={(open) => open || onClose()}>
      {/* the button was there before this code: here is only its place */}
      <DropdownMenu.Trigger asChild>
        <span aria-hidden="true" tabIndex={-1} className="pointer-events-none absolute inset-0" />
      </DropdownMenu.Trigger>
      {/* within the top line, not at the end of the page: readers find it where it belongs */}
      <DropdownMenu.Content
        align="start"
        aria-label="Models"
        aria-labelledby={undefined}
        onInteractOutside={(event) => {
          // the button itself closes it by its click
          if (event.target instanceof Node && at.current?.contains(event.target)) event.preventDefault();
        }}
        onCloseAutoFocus={(event) => {
          event.preventDefault();
          if (document.activeElement === document.body) at.current?.focus();
        }}
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
          <Link to="/new-equipment" className={ITEM}>
            Add a radio, a receiver, a tool…
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
