import { queryOptions, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { answered, client } from "@/api/client";
import { wordsOf } from "@/api/problem";
import type { Invited, Phone, Phones } from "@/api/types";
import { notify } from "@/app/notices";
import { worldQuery } from "@/app/world";
import { usePreferences } from "@/format/preferences";
import { clock, timeWords } from "@/format/time";
import { Failed } from "@/parts/Failed";
import { Sheet } from "@/parts/Sheet";

type Scope = Phone["scope"];

/** While a code is shown the list is asked again: the phone appears as soon as it has come in. */
const AGAIN_MS = 2000;

const phonesQuery = queryOptions({
  queryKey: ["phones"],
  queryFn: ({ signal }): Promise<Phones> => answered(client.GET("/api/phones", { signal })),
  staleTime: 0,
});

const SCOPES: [Scope, string, string][] = [
  [
    "look",
    "Look only",
    "It reads everything and sizes with what it likes; it keeps nothing and starts nothing.",
  ],
  ["everything", "Everything", "As at this computer: it logs runs, changes gear, starts and stops charges."],
];

/** A code to scan, and the phones that may come in. */
export default function PhonesSheet({ onClose }: { onClose: () => void }) {
  return (
    <Sheet open onClose={onClose} title="Bring a phone" wide>
      <Body />
    </Sheet>
  );
}

function Body() {
  const { data: world } = useQuery(worldQuery);
  const [invited, setInvited] = useState<Invited>();
  const { data, error, refetch } = useQuery({ ...phonesQuery, refetchInterval: invited ? AGAIN_MS : false });
  if (error && !data) return <Failed error={error} onRetry={() => void refetch()} className="px-5 py-4" />;
  if (!data) return <p className="px-5 py-4 text-ink-faint">Asking…</p>;
  return (
    <div className="grid gap-6 px-5 py-4 md:grid-cols-2">
      <section>
        <h2 className="heading mb-2">Pair one</h2>
        {world?.hands !== "here" ? (
          <p className="text-ink-soft">Phones are paired at the computer itself.</p>
        ) : data.address ? (
          <>
            <Invite phones={data.phones} invited={invited} onInvited={setInvited} />
            {data.fingerprint && <Trust fingerprint={data.fingerprint} />}
          </>
        ) : (
          <NotReached command={data.command ?? ""} />
        )}
      </section>
      <section>
        <h2 className="heading mb-2">{world?.hands === "here" ? "Paired" : "This device"}</h2>
        <PhoneList phones={data.phones} />
      </section>
    </div>
  );
}

function NotReached({ command }: { command: string }) {
  return (
    <>
      <p className="text-ink-soft">
        This program answers on this computer only. To let paired phones in the same network reach it, stop it
        and start it with:
      </p>
      <p className="number my-2 overflow-x-auto border bg-hollow px-3 py-2 text-plain">{command}</p>
      <p className="text-small text-ink-faint">
        From the project’s folder it is: make run HOST={command.split(" ").at(-1)}. Do it in networks that you
        trust: what goes through the air can be read there.
      </p>
    </>
  );
}

/** How a phone comes to know this computer, so that its browser does not warn. */
function Trust({ fingerprint }: { fingerprint: string }) {
  return (
    <details className="mt-4 text-small text-ink-soft">
      <summary>If the phone’s browser warns</summary>
      <p className="mt-1">
        It does not know this computer yet. Fetch the authority from the pairing page, and install it in the
        phone’s settings among the certificates, as an authority (CA). Its fingerprint must be this one; if it
        is not, somebody is in between:
      </p>
      <p className="number mt-1 break-all text-fine">{fingerprint}</p>
      <p className="mt-1">To remove it, delete it there. It vouches for this program only.</p>
    </details>
  );
}

type InviteProps = { phones: Phone[]; invited: Invited | undefined; onInvited: (made?: Invited) => void };

function Invite({ phones, invited, onInvited }: InviteProps) {
  const [scope, setScope] = useState<Scope>("everything");
  const [before, setBefore] = useState<number[]>([]);
  const invite = useMutation({
    mutationFn: (): Promise<Invited> => answered(client.POST("/api/phones/invite", { body: { scope } })),
    onSuccess: (made) => {
      setBefore(phones.map((p) => p.id));
      onInvited(made);
    },
  });
  const come = invited && phones.find((p) => !before.includes(p.id));
  useEffect(() => {
    if (!come) return;
    notify(`${come.name} is paired.`);
    onInvited(undefined);
  }, [come, onInvited]);
  const left = useLeft(invited?.ends);
  if (invited && left > 0)
    return (
      <>
        <p className="text-ink-soft">Scan this with the phone’s camera, then press Pair there.</p>
        <img
          src={invited.picture}
          alt={`Code to scan: ${invited.address}`}
          className="my-3 w-56 max-w-full"
        />
        <p className="text-small text-ink-soft">
          Or open <span className="number break-all">{invited.address.replace(/pair\?.*/, "")}</span> there
          and type <span className="number font-semibold text-ink">{invited.code}</span>.
        </p>
        <p className="mt-1 text-small text-ink-faint">
          Good for <span className="number">{clock(left)}</span>, once, for{" "}
          {scope === "everything" ? "everything" : "looking only"}.
        </p>
        {invited.address.startsWith("http:") && (
          <p className="mt-1 text-small text-ink-faint">
            This line is not encrypted: pair in a network that you trust, or start the program with --tls.
          </p>
        )}
        <button type="button" className="control mt-3" onClick={() => onInvited(undefined)}>
          Another code
        </button>
      </>
    );
  return (
    <>
      <fieldset className="space-y-2">
        <legend className="mb-1 text-ink-soft">What may it do?</legend>
        {SCOPES.map(([value, name, words]) => (
          <label key={value} className="flex cursor-pointer items-start gap-2 text-plain">
            <input
              type="radio"
              name="scope"
              className="mt-1"
              checked={scope === value}
              onChange={() => setScope(value)}
            />
            <span>
              <span className="block font-semibold">{name}</span>
              <span className="block text-small text-ink-soft">{words}</span>
            </span>
          </label>
        ))}
      </fieldset>
      {invited && <p className="mt-2 text-small text-ink-soft">The code has run out.</p>}
      {invite.error && (
        <p role="alert" className="mt-2 text-plain text-alert">
          {wordsOf(invite.error, "No code could be made.")}
        </p>
      )}
      <button
        type="button"
        className="primary mt-3"
        disabled={invite.isPending}
        onClick={() => invite.mutate()}
      >
        Show a code
      </button>
    </>
  );
}

/** Seconds that are left of a time, told anew each second; none without one. */
function useLeft(ends: string | undefined): number {
  const [now, setNow] = useState(Date.now);
  useEffect(() => {
    if (!ends) return;
    setNow(Date.now());
    const timer = window.setInterval(() => setNow(Date.now()), 1000);
    return () => window.clearInterval(timer);
  }, [ends]);
  return ends ? Math.max(0, Math.round((Date.parse(ends) - now) / 1000)) : 0;
}

function PhoneList({ phones }: { phones: Phone[] }) {
  const p = usePreferences();
  const queries = useQueryClient();
  const remove = async (phone: Phone) => {
    try {
      await answered(client.DELETE("/api/phones/{phone_id}", { params: { path: { phone_id: phone.id } } }));
      notify(`${phone.name} comes in no more. To undo it, pair it again.`);
    } catch (problem) {
      notify(wordsOf(problem, `${phone.name} could not be removed.`), { wrong: true });
    }
    if (phone.here) window.location.assign("/pair");
    else await queries.invalidateQueries({ queryKey: ["phones"] });
  };
  if (phones.length === 0) return <p className="text-ink-soft">No phone yet. Nobody else can come in.</p>;
  return (
    <ul className="divide-y border-y">
      {phones.map((phone) => (
        <li key={phone.id} className="flex items-baseline gap-3 py-2">
          <div className="min-w-0 flex-1">
            <p className="truncate font-semibold">{phone.name}</p>
            <p className="text-small text-ink-soft">
              {phone.scope === "everything" ? "everything" : "look only"}, seen {timeWords(phone.seen, p)}
            </p>
          </div>
          <button type="button" className="control text-small" onClick={() => void remove(phone)}>
            {phone.here ? "Leave" : "Remove"}
            <span className="sr-only"> {phone.name}</span>
          </button>
        </li>
      ))}
    </ul>
  );
}
