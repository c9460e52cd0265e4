import { Link, useParams } from "@tanstack/react-router";
import type { MatchDrive, MatchPack } from "@/api/types";
import { ownedTag } from "@/format/packId";
import { usePreferences } from "@/format/preferences";
import { worded } from "@/format/quantity";
import { FitMark } from "@/parts/FitMark";
import { FitReasons } from "@/parts/FitReasons";
import { Stack } from "@/parts/Stack";
import { jointNote, Questions } from "@/stages/match/parts";

type Props = { drive: MatchDrive; name: string; pack: MatchPack };

/** From the pack's plug to the motor: does it fit, and how each joint fares under this model's draw. */
export function DriveSide({ drive, name, pack }: Props) {
  const p = usePreferences();
  const { model } = useParams({ from: "/match/$model" });
  return (
    <section aria-label={`In ${name}`}>
      <h2 className="heading">{`In ${name}`}</h2>
      <p className="mt-0.5 flex items-start gap-2 text-lead font-semibold leading-5">
        <span className="mt-1">
          <FitMark verdict={drive.fit.verdict} />
        </span>
        <span>{drive.fit.opening}.</span>
      </p>
      <FitReasons fit={drive.fit} model={model} pack={ownedTag(pack.id)} />
      <p className="mt-1.5 text-plain text-ink-soft">
        {plugWords(pack, drive)}
        {drive.look_alike && (
          <strong className="font-semibold text-ink">
            {" "}
            — look-alikes:{" "}
            <Link to="/plugs" className="action">
              tell them apart
            </Link>
          </strong>
        )}
        . Draw {worded("current", drive.rms_a, p)}{" "}
        <abbr title="a kind of average that counts peaks more" className="no-underline">
          RMS
        </abbr>
        , {worded("current", drive.peak_a, p)} at the peak; {worded("minutes", drive.minutes, p)}.
      </p>
      <div className="mt-3.5 md:pl-4">
        <Stack
          plates={drive.joints}
          label={`From the cells to the motor of ${name}`}
          note={(plate) => jointNote(plate, p)}
        />
      </div>
      {drive.fixes.length > 0 && <Fixes drive={drive} />}
      <Questions words={drive.questions} />
      {drive.polarity.map((words) => (
        <p key={words} className="mt-2 border-l-4 border-rule-strong pl-2 text-small text-ink-soft">
          {words}
        </p>
      ))}
    </section>
  );
}

/** Which plugs meet, and which of them nobody named. */
function plugWords(pack: MatchPack, drive: MatchDrive): string {
  if (pack.plug_assumed && drive.model_plug_assumed) return "Nobody said which plugs pack and model carry";
  if (pack.plug_assumed) return `Model ${drive.model_plug}; nobody said what the pack carries`;
  if (drive.model_plug_assumed) return `Pack ${pack.plug_name}; nobody said what the model carries`;
  return `Pack ${pack.plug_name}, model ${drive.model_plug}`;
}

const FIX_WORDS: Record<string, string> = {
  adapter_owned: "You own",
  adapter_to_get: "Get or make",
  solder_pack: "Solder",
  solder_model: "Solder both",
};

function Fixes({ drive }: { drive: MatchDrive }) {
  return (
    <div className="mt-4">
      <h3 className="heading">What makes it fit</h3>
      <ul className="mt-1 space-y-1.5 text-plain">
        {drive.fixes.map((fix) => (
          <li key={fix.kind + fix.name} className="grid grid-cols-[5.5rem_1fr] gap-x-2">
            <span className="font-semibold">{FIX_WORDS[fix.kind]}</span>
            <span>{fix.sentence}</span>
          </li>
        ))}
      </ul>
      {drive.cautions.map((c) => (
        <p key={c.id} className="mt-1.5 border-l-4 border-rule-strong pl-2 text-small text-ink-soft">
          {c.sentence}
        </p>
      ))}
      <p className="mt-1.5 text-plain">
        <Link to="/gear/$kind" params={{ kind: "pieces" }} search={{ edit: "new" }} className="action">
          Add an adapter you own…
        </Link>
      </p>
    </div>
  );
}
