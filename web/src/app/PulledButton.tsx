import { useAct } from "@/app/act";
import { pulledPlug } from "@/app/alarms";

type Props = { charge: number; label: string };

/** Who stands at the charger and pulled its plug says so: that ends what the charger does not end. */
export function PulledButton({ charge, label }: Props) {
  const act = useAct();
  const pulled = () =>
    act({
      act: () => pulledPlug(charge),
      touches: ["charges", "bench", "life"],
      fails: "It could not be noted.",
      says: () => "Noted. Look at the pack before you use it again.",
    });
  return (
    <button type="button" className="stop-button" onClick={() => void pulled()}>
      I pulled its plug<span className="sr-only">: {label}</span>
    </button>
  );
}
