import { HandsLine } from "@/app/HandsLine";
import { TimerLine } from "@/app/TimerLine";
import { WaitingLine } from "@/app/WaitingLine";

type Props = { onPhones: () => void };

/** Lines below the top that are not always there: whose hands these are, a timer that runs, what waits. */
export default function Lines({ onPhones }: Props) {
  return (
    <>
      <HandsLine onPhones={onPhones} />
      <TimerLine />
      <WaitingLine />
    </>
  );
}
