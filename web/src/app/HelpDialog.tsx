import { WORDS } from "@/app/words";
import { inWords } from "@/format/sentence";
import { Sheet } from "@/parts/Sheet";

const KEYS: [string, string][] = [
  ["Ctrl K", "Find or do"],
  ["1", "Size"],
  ["2", "Match"],
  ["3", "Charge"],
  ["4", "Run"],
  ["5", "Keep"],
  ["6", "Practice"],
  ["S", "In Charge: stop every charge that runs"],
  ["?", "This help"],
  ["Ctrl Z", "Undo what was done last, on whatever screen"],
  ["Ctrl Shift Z", "Do it again"],
  ["Arrows", "On a line in the plot: move it; in a field: step; in the shortlist: next pack"],
  ["Enter", "In the shortlist: pick; in the grid of Match: explain"],
  ["P", "Pin the picked pack, to compare"],
];

export default function HelpDialog({ onClose }: { onClose: () => void }) {
  return (
    <Sheet open onClose={onClose} title="Help" wide>
      <div className="grid gap-6 px-5 py-4 md:grid-cols-2">
        <section>
          <h2 className="heading mb-2">How to size a pack</h2>
          <ol className="list-decimal space-y-1 pl-5 text-ink-soft">
            <li>Say what the model draws: average and peak amps, or a watt-meter log.</li>
            <li>Say what you want: minutes, and the heaviest pack. Drag the two lines in the plot.</li>
            <li>Pick a pack. The stack shows which part is the weak one.</li>
            <li>Every number opens its working: press it.</li>
          </ol>
          <h2 className="heading mb-2 mt-5">How to match it</h2>
          <ol className="list-decimal space-y-1 pl-5 text-ink-soft">
            <li>
              Match a picked pack: to the right its way to the motor, to the left its way from the charger.
            </li>
            <li>The weakest link slides out and says what would relieve it.</li>
            <li>Set the charger by the settings. The grid below shows all packs, models and chargers.</li>
            <li>Packs, chargers, leads and more of your own: “My gear” in the model’s menu.</li>
          </ol>
          <h2 className="heading mb-2 mt-5">How to charge, run and keep</h2>
          <ol className="list-decimal space-y-1 pl-5 text-ink-soft">
            <li>Charge: lay packs out, look, read their cells; batches and ports follow. Stay with it.</li>
            <li>
              Run: pick a pack, type its cells: go or no go, and the timer. Log it; no signal is needed.
            </li>
            <li>Keep: the shelf says what to do now; a pack’s page says why.</li>
            <li>House rules say when a pack is due, landed, worn. Set each as you practise it.</li>
          </ol>
          <h2 className="heading mb-2 mt-5">How to practise</h2>
          <ol className="list-decimal space-y-1 pl-5 text-ink-soft">
            <li>Practice: tasks on made-up packs or your own, at a bench that cannot burn.</li>
            <li>A wrong setting is seen through, cell by cell; then comes the working.</li>
            <li>Say your name, and each kind comes back when it is about to be forgotten.</li>
            <li>For instructors: sheets with their answers to print, and courses.</li>
          </ol>
          <h2 className="heading mb-2 mt-5">Keys</h2>
          <dl className="grid grid-cols-[auto_1fr] gap-x-4 gap-y-1">
            {KEYS.map(([key, does]) => (
              <div key={key} className="contents">
                <dt className="number text-small">{key}</dt>
                <dd className="text-ink-soft">{does}</dd>
              </div>
            ))}
          </dl>
        </section>
        <section>
          <h2 className="heading mb-2">Words</h2>
          <dl className="space-y-2">
            {Object.entries(WORDS).map(([word, means]) => (
              <div key={word}>
                <dt className="font-semibold">{word}</dt>
                <dd className="text-ink-soft">{inWords(means)}</dd>
              </div>
            ))}
          </dl>
        </section>
        <p className="text-plain text-ink-soft md:col-span-2">
          Fonts and scripts of these screens, and their licences:{" "}
          <a className="action" href="/static/licences.txt" target="_blank" rel="noreferrer">
            licences.txt
          </a>
          .
        </p>
      </div>
    </Sheet>
  );
}
